<script setup lang="ts">
/** Twenty-four pictures to tap in an order; what is tapped stands above, and can be taken back. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { pictures } from '#core/accounts/pictures';

const chosen = defineModel<string[]>({ required: true });
const tap = (name: string) => (chosen.value = [...chosen.value, name].slice(0, 6));
</script>

<template>
  <div>
    <p class="chosen flex gap-8px items-center mb-10px min-h-48px" aria-live="polite">
      <span v-for="(name, i) in chosen" :key="i" class="one w-44px h-44px p-4px [border-bottom:3px_solid_var(--straw)]">
        <svg viewBox="0 0 24 24" aria-hidden="true"><path :d="pictures[name]" /></svg><span class="sr">{{ name }}</span>
      </span>
      <span
        v-for="n in Math.max(0, 3 - chosen.length)"
        :key="`gap${n}`"
        class="one w-44px h-44px p-4px [border-bottom:3px_solid_var(--rule)]"
        aria-hidden="true"
      />
      <Button v-if="chosen.length > 0" type="text" size="small" @click="chosen = chosen.slice(0, -1)">
        {{ t('sign.removeTheLastOne') }}
      </Button>
    </p>
    <div class="pad grid [grid-template-columns:repeat(6,1fr)] gap-6px" role="group" :aria-label="t('sign.pictures')">
      <Button v-for="(path, name) in pictures" :key="name" size="small" :aria-label="name" @click="tap(name)">
        <svg viewBox="0 0 24 24" aria-hidden="true"><path :d="path" /></svg>
      </Button>
    </div>
  </div>
</template>

<style scoped>
.pad button {
  aspect-ratio: 1;
  width: 100%;
  height: auto;
  border: 1px solid var(--quiet);
  border-radius: 2px;
  background: var(--sheet);
  padding: 6px;
  cursor: pointer;
}
.pad button:active {
  background: var(--straw-wash);
}
svg {
  width: 100%;
  height: 100%;
  display: block;
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linecap: round;
  stroke-linejoin: round;
}
</style>
