<script setup lang="ts">
/** A code for the projector: as large as the screen lets it be, with the address and a QR. */
import { t } from '@/words';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import Poster from '@/frame/Poster.vue';
import { useLoad } from '@/kit/load';

const route = useRoute();
const id = computed(() => String(route.params.id));
const code = useLoad(t('joining.theJoinCode'), 'GET /api/codes/:id', () => ({ id: id.value }), {
  keep: false,
  every: 5000,
  alone: true,
});
const one = computed(() => code.data.value);
const address = computed(() => one.value?.url.replace(/^https?:\/\//, '').replace(/\/j\/.*$/, '/join') ?? '');
</script>

<template>
  <Poster v-if="one" :title="one.className ?? one.school" :url="one.url">
    <template #large>
      <p
        class="code flex flex-wrap justify-center gap-y-0 gap-x-0.5em [font:700_clamp(48px,12vw,220px)_/_1.1_var(--mono)]"
        :class="{ over: one.state !== 'open' }"
      >
        <span v-for="part in one.code.split('-')" :key="part">{{ part }}</span>
      </p>
    </template>
    <p>{{ t('joining.scanItOrGoTo') }}</p>
    <p class="address">{{ address }}</p>
    <p>{{ t('joining.andTypeTheCode') }}</p>
    <p>
      <a :href="`/api/posters/${one.id}`" target="_blank">{{ t('joining.posterToPrint') }}</a>
    </p>
    <p class="count mt-1em">
      <b>{{ t('joining.in', { n: one.uses }) }}</b>
      <span v-if="one.state !== 'open'" class="rust">{{ t('joining.theCodeIs', { state: one.state }) }}</span>
    </p>
  </Poster>
  <p v-else-if="code.error.value" role="alert">{{ code.error.value.message }}</p>
</template>

<style scoped>
.over {
  text-decoration: line-through;
  color: var(--quiet);
}
</style>
