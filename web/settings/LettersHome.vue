<script setup lang="ts">
/** What letters home ask families to sign, in each language; where the district wrote nothing, Sheaf's own words. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption, Textarea } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { english, isRtl, type Language, languages, texts } from '#core/cards/index';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const { keep, busy } = useKeep(() => emit('changed'));
const language = ref<Language | 'en'>('en');
const own = computed(() => (language.value === 'en' ? english : texts[language.value]).letter.agrees);
const kept = computed(() => props.state.settings.consent[language.value] ?? own.value);
const text = ref(kept.value);
watch(kept, (now) => (text.value = now));
const isOwn = (key: Language | 'en') => props.state.settings.consent[key] === undefined;
const save = (words: string) => {
  const others = { ...props.state.settings.consent };
  delete others[language.value];
  const said = words.trim();
  return keep(
    { consent: said === '' || said === own.value ? others : { ...others, [language.value]: said } },
    t('settings.lettersSaved'),
  );
};
</script>

<template>
  <section class="grid gap-12px content-start max-w-640px">
    <h1>{{ t('settings.lettersHome') }}</h1>
    <p class="quiet">
      {{ t('settings.lettersHint') }} <RouterLink to="/handouts">{{ t('settings.toHandouts') }}</RouterLink>
    </p>
    <form class="grid gap-12px justify-items-start" @submit.prevent="save(text)">
      <label class="row"
        >{{ t('settings.language') }}
        <Choice v-model:value="language">
          <SelectOption value="en">{{ 'English' }}</SelectOption>
          <SelectOption v-for="(name, key) in languages" :key="key" :value="key">{{
            isOwn(key) ? t('places.languageToCheck', { name }) : name
          }}</SelectOption>
        </Choice></label
      >
      <label class="grid gap-2px w-full"
        >{{ t('settings.consent') }}
        <Textarea
          v-model:value="text"
          :auto-size="{ minRows: 5, maxRows: 14 }"
          :maxlength="1200"
          show-count
          :dir="isRtl(language) ? 'rtl' : 'ltr'"
          :lang="language"
          :disabled="!session.may('settings.change')"
        />
      </label>
      <div v-if="session.may('settings.change')" class="row">
        <Button type="primary" html-type="submit" :loading="busy" :disabled="text.trim() === kept">{{
          t('settings.save')
        }}</Button>
        <Button v-if="!isOwn(language)" @click="save('')">{{ t('settings.useSheafsWords') }}</Button>
      </div>
    </form>
  </section>
</template>
