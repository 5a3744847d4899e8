<script setup lang="ts">
/** One address with its QR, as large as the screen or the paper lets it be. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computedAsync, useEventListener } from '@vueuse/core';
import QRCode from 'qrcode';
import { useRouter } from 'vue-router';

const props = defineProps<{ title: string; url: string }>();
const router = useRouter();
const picture = computedAsync(() => QRCode.toDataURL(props.url, { errorCorrectionLevel: 'M', margin: 2, scale: 12 }));
useEventListener(window, 'keydown', (event) => {
  if (event.key === 'Escape') router.back();
});
</script>

<template>
  <main class="board min-h-full py-4vh px-4vw flex flex-col items-center justify-center gap-4vh text-center">
    <h1 class="[font-size:clamp(24px,4vw,64px)] break-anywhere">{{ title }}</h1>
    <slot name="large" />
    <div class="ways flex flex-wrap justify-center items-center gap-4vw [font-size:clamp(18px,2vw,32px)] text-left">
      <img v-if="picture" :src="picture" :alt="t('frame.qrCodeOfTheAddress')" />
      <div><slot /></div>
    </div>
    <Button type="text" size="small" class="back fixed top-12px right-16px" @click="router.back()"
      ><span
        >{{ t('common.back') }} <kbd>{{ t('frame.esc') }}</kbd></span
      ></Button
    >
  </main>
</template>

<style scoped>
.ways img {
  width: clamp(160px, 22vw, 380px);
  image-rendering: pixelated;
}
.ways :deep(.address) {
  font-family: var(--mono);
  font-size: 1.2em;
  font-weight: 700;
  overflow-wrap: anywhere;
}
@media print {
  .back {
    display: none;
  }
}
</style>
