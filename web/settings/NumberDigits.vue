<script setup lang="ts">
/** How many digits student numbers have: imports find by it which ones lost leading zeros. */
import { t } from '@/words';
import NumberInput from '@/kit/NumberInput.vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';

defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const { keep } = useKeep(() => emit('changed'));
</script>

<template>
  <section class="grid gap-8px content-start mt-24px">
    <h2>{{ t('settings.numbers') }}</h2>
    <label class="row"
      >{{ t('settings.digits') }}
      <NumberInput
        class="w-70px"
        lazy
        :min="3"
        :max="12"
        :value="state.settings.numberDigits"
        :placeholder="t('common.none')"
        :disabled="!session.may('settings.change')"
        @update:value="(digits) => keep({ numberDigits: digits || null }, t('settings.digitsSaved'))"
    /></label>
    <p class="quiet">{{ t('settings.digitsHint') }}</p>
  </section>
</template>
