<script setup lang="ts">
/** Whether something typed may be lost; asked before another page is opened. */
import { Modal } from 'ant-design-vue';
import { t } from '@/words';
import { leaving } from './unsaved';
</script>

<template>
  <Modal
    :open="leaving !== null"
    :title="t('kit.leaveWithoutSaving')"
    :ok-text="t('kit.leave')"
    :cancel-text="t('kit.stay')"
    @ok="leaving?.(true)"
    @cancel="leaving?.(false)"
  >
    <p>{{ t('kit.whatYouTypedIsNotSaved') }}</p>
  </Modal>
</template>
