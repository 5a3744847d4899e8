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
import type { Mode, Tone } from '#core/devices/index';
import { useScanQueue } from './scan-queue';
import { onShown, useAgain } from '@/kit/load';

const session = useSession();
const reload = useAgain();
const typed = ref('');
const due = ref('');
const field = ref<HTMLInputElement | null>(null);
const sound = ref(true);
const { lines, status, add, close } = useScanQueue(session.me!.personId, () => due.value || null, play);
onBeforeUnmount(() => {
  close();
  void reload();
});

/** Two notes up: taken; two down: returned; one: noted or counted; low and long: wrong. */
const notes: Record<Tone, [hertz: number, ms: number][]> = {
  taken: [
    [660, 70],
    [880, 90],
  ],
  returned: [
    [880, 70],
    [660, 90],
  ],
  counted: [[780, 60]],
  noted: [[520, 60]],
  wrong: [[150, 380]],
};
let audio: AudioContext | null = null;
function play(tone: Tone): void {
  if (!sound.value) return;
  audio ??= new AudioContext();
  let at = audio.currentTime;
  for (const [hertz, ms] of notes[tone]) {
    const note = audio.createOscillator();
    const volume = audio.createGain();
    note.type = tone === 'wrong' ? 'square' : 'sine';
    note.frequency.value = hertz;
    volume.gain.value = 0.08;
    note.connect(volume).connect(audio.destination);
    note.start(at);
    note.stop(at + ms / 1000);
    at += ms / 1000;
  }
}
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
const modes: [Mode, string, string, string][] = [
  ['give', t('devices.give'), 'F2', 'Give'],
  ['back', t('devices.return'), 'F4', t('devices.return2')],
  ['swap', t('devices.swap'), 'F8', 'Swap'],
  ['count', t('devices.check'), 'F9', t('devices.checkACart')],
];
useEventListener(window, 'keydown', (event) => {
  const mode = modes.find(([, , key]) => key === event.key);
  if (!mode) return;
  event.preventDefault();
  void add(mode[1]);
  focus();
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
  wrong: t('devices.notRecognized'),
};
</script>

<template>
  <div class="scan">
    <h1 class="sr">{{ t('frame.scanDevices') }}</h1>
    <section class="desk">
      <div class="row wrap" role="group" :aria-label="t('devices.action')">
        <Button
          v-for="[mode, text, key, label] in modes"
          :key="mode"
          size="small"
          class="mode"
          :aria-pressed="status.mode === mode"
          :class="{ on: status.mode === mode }"
          @click="
            add(text);
            focus();
          "
        >
          <span
            >{{ label }} <kbd>{{ key }}</kbd></span
          >
        </Button>
        <span class="grow" />
        <label v-if="status.mode === 'give'" class="quiet"
          >{{ t('devices.until') }}
          <TextInput v-model:value="due" class="due" :placeholder="t('devices.noEndOrYyyyMm')" @keydown.enter="focus"
        /></label>
        <Checkbox v-model:checked="sound" class="quiet"> {{ t('devices.sound') }}</Checkbox>
      </div>
      <form @submit.prevent="scan">
        <TextInput
          ref="field"
          v-model:value="typed"
          class="field mono"
          autocomplete="off"
          autocapitalize="off"
          spellcheck="false"
          :aria-label="t('devices.scan')"
          :placeholder="says[status.mode]"
        />
      </form>
      <p class="said" :class="last?.said?.tone" aria-live="assertive">
        <template v-if="last?.said"
          ><i class="shape" aria-hidden="true" /><span
            ><b>{{ words[last.said.tone] }}</b> {{ last.said.text }}</span
          ></template
        >
      </p>
      <p v-if="status.lost" class="lost">
        {{
          t('devices.theServerDoesNotAnswer', {
            waiting: status.waiting,
            are: status.waiting === 1 ? t('devices.scanIs') : t('devices.scansAre'),
          })
        }}
      </p>
      <p v-else-if="status.failure" class="rust">{{ status.failure }}</p>
    </section>
    <ol class="lines" :aria-label="t('devices.scansNewestFirst')">
      <li v-for="line in lines.slice(0, 120)" :key="line.seq" :class="line.said?.tone ?? 'kept'">
        <i class="shape" aria-hidden="true" />
        <span class="mono code">{{ line.text }}</span>
        <span class="what">{{ line.said ? words[line.said.tone] : t('devices.stay') }}</span>
        <span class="grow">{{ line.said?.text }}</span>
      </li>
    </ol>
    <p class="foot quiet row">
      <span class="grow">{{ t('devices.waitingToBeBooked', { waiting: status.waiting }) }}</span>
      <a :href="`/api/scan-sheet${session.where.school ? `?school=${session.where.school}` : ''}`" target="_blank">{{
        t('devices.actionCodesAndCartCodes')
      }}</a>
    </p>
  </div>
</template>

<style scoped>
.scan {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.desk {
  flex: none;
  padding: 12px 16px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  background: var(--sheet);
  border-bottom: 1px solid var(--rule);
}
.mode.on {
  background: var(--ink);
  color: var(--paper);
}
.due {
  width: 190px;
}
.field {
  width: 100%;
  font: 22px var(--mono);
  color: var(--ink);
  background: var(--paper);
  border: 2px solid var(--ink);
  border-radius: 2px;
  padding: 8px 12px;
}
.said {
  font-size: 20px;
  min-height: 32px;
  display: flex;
  align-items: center;
  gap: 10px;
}
.lost {
  color: var(--dusk);
}
.lines {
  flex: 1;
  min-height: 0;
  overflow: auto;
  margin: 0;
  padding: 4px 16px;
  list-style: none;
}
.lines li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 28px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
.code {
  width: 210px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.what {
  width: 70px;
}
/* A full square: given; a hollow one: back; a bar: counted; a dot: go on; a rhomb: wrong. */
.shape {
  flex: none;
  width: 14px;
  height: 14px;
  border: 2px solid var(--quiet);
}
.kept .shape {
  border-style: dotted;
}
.taken .shape {
  background: var(--stem);
  border-color: var(--stem);
}
.returned .shape {
  border-color: var(--stem);
}
.counted .shape {
  height: 5px;
  background: var(--stem);
  border-color: var(--stem);
}
.noted .shape {
  width: 8px;
  height: 8px;
  border-radius: 50%;
  margin: 0 3px;
}
.wrong .shape {
  background: var(--rust);
  border-color: var(--rust);
  transform: rotate(45deg) scale(0.8);
}
.wrong {
  color: var(--rust);
}
.taken .what,
.returned .what,
.counted .what {
  color: var(--stem);
}
.foot {
  flex: none;
  padding: 4px 16px;
  font-size: 13px;
  border-top: 1px solid var(--rule);
}
</style>
