<script setup lang="ts">
/** Whether a mail server is set up, and which letters go out by themselves. */
import { t } from '@/words';
import { Checkbox } from 'ant-design-vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';

defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const { keep, busy } = useKeep(() => emit('changed'));
</script>

<template>
  <section class="grid gap-12px content-start max-w-640px">
    <h1>{{ t('settings.mail') }}</h1>
    <template v-if="state.mailFrom">
      <p>
        {{ t('settings.mailFrom') }} <span class="mono break-anywhere">{{ state.mailFrom }}</span>
      </p>
      <Checkbox
        :checked="state.settings.digest"
        :disabled="busy || !session.may('settings.change')"
        @update:checked="(digest) => keep({ digest }, t('settings.mailSaved'))"
      >
        {{ t('district.coordinatorsGetASummaryBy') }}
      </Checkbox>
    </template>
    <p v-else class="quiet">
      {{ t('settings.mailNone') }} <span class="mono break-anywhere">{{ 'SHEAF_MAIL_URL' }}</span>
    </p>
  </section>
</template>
