<script setup lang="ts">
/** A code for the projector: as large as the screen lets it be, with the address and a QR. */
import { useQuery } from '@tanstack/vue-query';
import { useEventListener } from '@vueuse/core';
import QRCode from 'qrcode';
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '@/api';

const route = useRoute();
const router = useRouter();
const id = computed(() => String(route.params.id));
const code = useQuery({
  queryKey: ['code', id],
  queryFn: () => call('GET /api/codes/:id', { id: id.value }),
  refetchInterval: 5000,
});
const picture = useQuery({
  queryKey: ['code-qr', computed(() => code.data.value?.url ?? '')],
  queryFn: () => QRCode.toDataURL(code.data.value!.url, { errorCorrectionLevel: 'M', margin: 2, scale: 12 }),
  enabled: computed(() => code.data.value !== undefined),
});
const address = computed(() => code.data.value?.url.replace(/^https?:\/\//, '').replace(/\/j\/.*$/, '/join') ?? '');
useEventListener(window, 'keydown', (event) => {
  if (event.key === 'Escape') router.back();
});
</script>

<template>
  <main class="board">
    <template v-if="code.data.value">
      <h1>{{ code.data.value.className ?? code.data.value.school }}</h1>
      <p class="code" :class="{ over: code.data.value.state !== 'open' }">
        <span v-for="part in code.data.value.code.split('-')" :key="part">{{ part }}</span>
      </p>
      <div class="ways">
        <img v-if="picture.data.value" :src="picture.data.value" alt="QR code of the join address" />
        <div>
          <p>Scan it, or go to</p>
          <p class="address mono">{{ address }}</p>
          <p>and type the code.</p>
          <p class="count">
            <b>{{ code.data.value.uses }}</b> are in
            <span v-if="code.data.value.state !== 'open'" class="rust">· the code is {{ code.data.value.state }}</span>
          </p>
        </div>
      </div>
    </template>
    <p v-else-if="code.error.value" role="alert">{{ code.error.value.message }}</p>
    <button class="plain quiet back" type="button" @click="router.back()">Back <kbd>Esc</kbd></button>
  </main>
</template>

<style scoped>
.board {
  min-height: 100%;
  padding: 4vh 4vw;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 4vh;
  text-align: center;
}
h1 {
  font-size: clamp(24px, 4vw, 64px);
  overflow-wrap: anywhere;
}
.code {
  display: flex;
  flex-wrap: wrap;
  justify-content: center;
  gap: 0 0.5em;
  font: 700 clamp(48px, 12vw, 220px) / 1.1 var(--mono);
}
.over {
  text-decoration: line-through;
  color: var(--quiet);
}
.ways {
  display: flex;
  flex-wrap: wrap;
  justify-content: center;
  align-items: center;
  gap: 4vw;
  font-size: clamp(18px, 2vw, 32px);
  text-align: left;
}
.ways img {
  width: clamp(160px, 22vw, 380px);
  image-rendering: pixelated;
}
.address {
  font-size: 1.2em;
  font-weight: 700;
}
.count {
  margin-top: 1em;
}
.back {
  position: fixed;
  top: 12px;
  right: 16px;
}
</style>
