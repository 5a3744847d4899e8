<script setup lang="ts">
/** The district's own sign-on: whether one is set up, and whose addresses it may link at their first sign-in. */
import { t } from '@/words';
import Tags from '@/kit/Tags.vue';
import { Button, Form, FormItem } from 'ant-design-vue';
import { ref } from 'vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const domains = ref([...props.state.settings.signOnDomains]);
const { keep, busy } = useKeep(() => emit('changed'));
const save = () =>
  keep(
    { signOnDomains: domains.value.map((domain) => domain.trim().toLowerCase().replace(/^@/, '')) },
    t('settings.signOnSaved'),
  );
</script>

<template>
  <section class="grid gap-12px content-start max-w-640px">
    <h1>{{ t('settings.signOn') }}</h1>
    <p v-if="state.signOn">
      {{ t('settings.signOnAt') }} <span class="mono break-anywhere">{{ state.signOn }}</span>
    </p>
    <p v-else class="quiet">
      {{ t('settings.signOnNone') }} <span class="mono break-anywhere">{{ 'SHEAF_SIGN_ON_URL' }}</span>
    </p>
    <Form v-if="state.signOn" layout="vertical" :disabled="!session.may('settings.change')" @submit.prevent="save">
      <FormItem
        :label="t('district.eMailDomainsForThe')"
        html-for="sign-on-domains"
        :extra="t('district.signOnDomainsHint')"
      >
        <Tags id="sign-on-domains" v-model:value="domains" :placeholder="t('district.exampleOrg')" />
      </FormItem>
      <Button v-if="session.may('settings.change')" type="primary" html-type="submit" :loading="busy">{{
        t('settings.save')
      }}</Button>
    </Form>
  </section>
</template>
