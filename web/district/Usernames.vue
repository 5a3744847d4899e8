<script setup lang="ts">
/** The username pattern, put together from parts, with what it makes of real people and how many would clash. */
import Choice from '@/kit/Choice.vue';
import { refDebounced } from '@vueuse/core';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import type { DistrictState } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { useLoad } from '@/kit/load';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const work = useWork();
/** '': the district's. */
const schoolId = ref('');
const kept = computed(
  () => props.state.settings.schoolPatterns[schoolId.value] ?? props.state.settings.usernamePattern,
);
const pattern = ref(kept.value);
const parts = [
  ['{given:1}', 'first letter of the given name'],
  ['{given}', 'given name'],
  ['{family}', 'family name'],
  ['{family:4}', 'four letters of the family name'],
  ['{number}', 'student number'],
  ['{number:-2}', 'last two digits of it'],
  ['.', 'a dot'],
  ['-', 'a hyphen'],
] as const;
const asked = refDebounced(
  computed(() => ({ pattern: pattern.value, schoolId: schoolId.value || null })),
  150,
);
const tried = useLoad('the preview', 'POST /api/usernames/try', () => ({ body: asked.value }), { alone: true });
async function keep(): Promise<void> {
  const { schoolPatterns } = props.state.settings;
  try {
    await call('POST /api/district', {
      body: schoolId.value
        ? { schoolPatterns: { ...schoolPatterns, [schoolId.value]: pattern.value } }
        : { usernamePattern: pattern.value },
    });
    work.say('New accounts are named so. Usernames that were given stay.');
    emit('changed');
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section>
    <h2>Usernames</h2>
    <p class="row">
      <label class="row"
        >of
        <Choice v-model:value="schoolId" @update:value="pattern = kept">
          <SelectOption value="">the district</SelectOption>
          <SelectOption v-for="s in state.schools" :key="s.id" :value="s.id">
            {{ s.name }}{{ state.settings.schoolPatterns[s.id] ? ', its own' : '' }}
          </SelectOption>
        </Choice></label
      >
      <TextInput v-model:value="pattern" class="mono grow" aria-label="Username pattern" spellcheck="false" />
    </p>
    <p class="parts">
      <Button
        v-for="[part, label] in parts"
        :key="part"
        type="text"
        size="small"
        :title="label"
        :aria-label="`${part}: add the ${label}`"
        @click="pattern += part"
      >
        <span class="mono">{{ part }}</span>
      </Button>
      <Button type="text" size="small" @click="pattern = ''">empty it</Button>
    </p>
    <p v-if="tried.data.value?.wrong" class="rust">{{ tried.data.value.wrong }}</p>
    <template v-else-if="tried.data.value">
      <ul class="examples">
        <li v-for="e in tried.data.value.examples" :key="e.name">
          <span class="clip quiet">{{ e.name }}</span><span class="mono clip">{{ e.username }}</span>
        </li>
      </ul>
      <p :class="tried.data.value.clashes > tried.data.value.people / 10 ? 'rust' : 'quiet'">
        {{ tried.data.value.clashes.toLocaleString('en-US') }} of
        {{ tried.data.value.people.toLocaleString('en-US') }} would have the same as somebody else, and get a number.
      </p>
    </template>
    <Button
      v-if="session.may('settings.change')"
      class="keep"
      :disabled="pattern === kept || tried.data.value?.wrong !== null"
      @click="keep"
      >Name new accounts so</Button
    >
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
.keep {
  justify-self: start;
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.examples {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 24px;
  font-size: 13px;
}
.examples li {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  padding: 1px 0;
}
</style>
