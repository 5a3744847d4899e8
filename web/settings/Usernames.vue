<script setup lang="ts">
/** The username pattern, put together from parts, with what it makes of real people and how many would clash. */
import { locale, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { refDebounced } from '@vueuse/core';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useLoad } from '@/kit/load';
import { useKeep } from './keep';
import NumberDigits from './NumberDigits.vue';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
/** '': the district's. */
const schoolId = ref('');
const kept = computed(
  () => props.state.settings.schoolPatterns[schoolId.value] ?? props.state.settings.usernamePattern,
);
const pattern = ref(kept.value);
const parts = [
  ['{given:1}', t('district.firstLetterOfTheGiven')],
  ['{given}', t('district.givenName')],
  ['{family}', t('district.familyName')],
  ['{family:4}', t('district.fourLettersOfTheFamily')],
  ['{number}', t('district.studentNumber')],
  ['{number:-2}', t('district.lastTwoDigitsOfIt')],
  ['.', t('district.dot')],
  ['-', t('district.hyphen')],
] as const;
const asked = refDebounced(
  computed(() => ({ pattern: pattern.value, schoolId: schoolId.value || null })),
  150,
);
const tried = useLoad(t('district.thePreview'), 'POST /api/usernames/try', () => ({ body: asked.value }), {
  alone: true,
});
const { keep, busy } = useKeep(() => emit('changed'));
function save(): Promise<void> {
  const { schoolPatterns } = props.state.settings;
  return keep(
    schoolId.value
      ? { schoolPatterns: { ...schoolPatterns, [schoolId.value]: pattern.value } }
      : { usernamePattern: pattern.value },
    t('district.newAccountsGetUsernamesBy'),
  );
}
</script>

<template>
  <section class="grid gap-8px content-start max-w-760px">
    <h1>{{ t('district.usernames') }}</h1>
    <p class="row">
      <label class="row"
        >{{ t('district.from') }}
        <Choice v-model:value="schoolId" @update:value="pattern = kept">
          <SelectOption value="">{{ t('district.theDistrict') }}</SelectOption>
          <SelectOption v-for="s in state.schools" :key="s.id" :value="s.id">
            {{ s.name }}{{ state.settings.schoolPatterns[s.id] ? t('district.itsOwn') : '' }}
          </SelectOption>
        </Choice></label
      >
      <TextInput
        v-model:value="pattern"
        class="mono grow"
        :aria-label="t('district.usernamePattern')"
        spellcheck="false"
      />
    </p>
    <p class="flex flex-wrap gap-y-4px gap-x-12px">
      <Button
        v-for="[part, label] in parts"
        :key="part"
        type="text"
        size="small"
        :title="label"
        :aria-label="t('district.addThe', { part, label })"
        @click="pattern += part"
      >
        <span class="mono">{{ part }}</span>
      </Button>
      <Button type="text" size="small" @click="pattern = ''">{{ t('district.emptyIt') }}</Button>
    </p>
    <p v-if="tried.data.value?.wrong" class="rust">{{ tried.data.value.wrong }}</p>
    <template v-else-if="tried.data.value">
      <ul class="examples grid [grid-template-columns:1fr_1fr] gap-y-0 gap-x-24px text-13px">
        <li
          v-for="e in tried.data.value.examples"
          :key="e.name"
          class="grid [grid-template-columns:1fr_1fr] gap-8px faint-b py-1px px-0"
        >
          <span class="clip quiet">{{ e.name }}</span><span class="mono clip">{{ e.username }}</span>
        </li>
      </ul>
      <p :class="tried.data.value.clashes > tried.data.value.people / 10 ? 'rust' : 'quiet'">
        {{
          t('district.ofWouldClashAndGet', {
            clashes: tried.data.value.clashes.toLocaleString(locale),
            people: tried.data.value.people.toLocaleString(locale),
          })
        }}
      </p>
    </template>
    <Button
      v-if="session.may('settings.change')"
      class="justify-self-start"
      :disabled="pattern === kept || tried.data.value?.wrong !== null"
      :loading="busy"
      @click="save"
      >{{ t('district.useThisPattern') }}</Button
    >
    <NumberDigits :state="state" @changed="emit('changed')" />
  </section>
</template>
