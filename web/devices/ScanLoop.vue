<script setup lang="ts">
/**
 * The scan loop: one field that always has the focus, the last scans below it, a shape and a sound for what was
 * taken, returned and wrong. It goes on while the server is away; what was scanned is booked once it is back.
 */
import { t } from '@/words';
import { Button, Checkbox } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { useEventListener } from '@vueuse/core';
import { computed, onBeforeUnmount, ref } from 'vue';
import { useSession } from '@/stores/session';
import { type Mode, modeCodes, type Tone } from '#core/devices/index';
import DayInput from '@/kit/DayInput.vue';
import { play } from './sounds';
import ScanLines from './ScanLines.vue';
import ScanShape from './ScanShape.vue';
import { useScanQueue } from './scan-queue';
import { onShown, useAgain } from '@/kit/load';

const session = useSession();
const reload = useAgain();
const typed = ref('');
const due = ref('');
const field = ref<HTMLInputElement | null>(null);
const sound = ref(true);
const { lines, status, add, close } = useScanQueue(
  session.me!.personId,
  () => due.value || null,
  (tone) => {
    if (sound.value) play(tone);
  },
);
onBeforeUnmount(() => {
  close();
  void reload();
});

function scan(): void {
  const text = typed.value.trim();
  typed.value = '';
  if (text) void add(text);
}
const focus = () => field.value?.focus();
onShown(focus);
// Whatever else was clicked, the next scan lands in the field.
useEventListener(window, 'focus', focus);
useEventListener(document, 'keydown', (event) => {
  const at = document.activeElement;
  if (
    at === field.value ||
    (at instanceof HTMLElement && at.closest('input, select, button, a')) ||
    event.ctrlKey ||
    event.altKey
  )
    return;
  if (event.key.length === 1) focus();
});
const modes: { mode: Mode; key: string; label: string }[] = [
  { mode: 'give', key: 'F2', label: t('devices.checkOut') },
  { mode: 'back', key: 'F4', label: t('devices.return2') },
  { mode: 'swap', key: 'F8', label: t('devices.swap') },
  { mode: 'count', key: 'F9', label: t('devices.checkACart') },
];
function choose(mode: Mode): void {
  void add(modeCodes[mode]);
  focus();
}
useEventListener(window, 'keydown', (event) => {
  const chosen = modes.find(({ key }) => key === event.key);
  if (!chosen) return;
  event.preventDefault();
  choose(chosen.mode);
});
const says: Record<Mode, string> = {
  give: t('devices.scanTheStudentsCardThen'),
  back: t('devices.scanEachDeviceThatComes'),
  swap: t('devices.scanTheBrokenDeviceThen'),
  count: t('devices.scanTheCartEachDevice'),
};
const last = computed(() => lines.value.find(({ said }) => said !== null) ?? null);
const words: Record<Tone, string> = {
  taken: t('devices.assigned'),
  returned: t('devices.returned'),
  counted: t('devices.checked'),
  noted: t('devices.continue'),
  wrong: t('devices.notBooked'),
};
</script>

<template>
  <div class="flex flex-col min-h-0">
    <h1 class="sr">{{ t('frame.scanDevices') }}</h1>
    <section class="flex-none py-12px px-16px grid [grid-template-columns:minmax(0,1fr)] gap-10px bg-sheet ruled-b">
      <div class="row flex-wrap" role="group" :aria-label="t('devices.action')">
        <Button
          v-for="{ mode, key, label } in modes"
          :key="mode"
          size="small"
          class="mode"
          :aria-pressed="status.mode === mode"
          :class="{ on: status.mode === mode }"
          @click="choose(mode)"
        >
          <span
            >{{ label }} <kbd>{{ key }}</kbd></span
          >
        </Button>
        <span class="grow" />
        <label v-if="status.mode === 'give'" class="quiet"
          >{{ t('devices.until') }} <DayInput v-model:value="due" class="w-190px" allow-clear @update:value="focus"
        /></label>
        <Checkbox v-model:checked="sound" class="quiet"> {{ t('devices.sound') }}</Checkbox>
      </div>
      <form @submit.prevent="scan">
        <TextInput
          ref="field"
          v-model:value="typed"
          class="mono w-full [font:22px_var(--mono)] c-ink bg-paper [border:2px_solid_var(--ink)] rd-2px py-8px px-12px"
          autocomplete="off"
          autocapitalize="off"
          spellcheck="false"
          :aria-label="t('devices.scan')"
          :placeholder="says[status.mode]"
        />
      </form>
      <p class="said" :class="{ rust: last?.said?.tone === 'wrong' }" aria-live="assertive">
        <template v-if="last?.said"
          ><ScanShape :tone="last.said.tone" /><span
            ><b>{{ words[last.said.tone] }}</b> {{ last.said.text }}</span
          ></template
        >
      </p>
      <p v-if="status.lost" class="c-dusk">
        {{ t('devices.theServerDoesNotAnswer', { n: status.waiting }) }}
      </p>
      <p v-else-if="status.failure" class="rust">{{ status.failure }}</p>
    </section>
    <ScanLines :lines="lines" :words="words" />
    <p class="quiet row flex-none py-4px px-16px text-13px ruled-t">
      <span class="grow">{{ t('devices.waitingToBeBooked', { waiting: status.waiting }) }}</span>
      <a :href="`/api/scan-sheet${session.where.school ? `?school=${session.where.school}` : ''}`" target="_blank">{{
        t('devices.actionCodesAndCartCodes')
      }}</a>
    </p>
  </div>
</template>

<style scoped>
.mode.on {
  background: var(--ink);
  color: var(--paper);
}
.said {
  font-size: 20px;
  min-height: 32px;
  display: flex;
  align-items: center;
  gap: 10px;
}
</style>
