<script setup lang="ts">
/** All parts of the kit in all their states, by day and by night beside each other. In development builds alone, at /kit. */
import { Button, Checkbox, ConfigProvider } from 'ant-design-vue';
import { reactive } from 'vue';
import { antTheme } from '@/theme/antd';
import Choice from './Choice.vue';
import DayInput from './DayInput.vue';
import EditInPlace from './EditInPlace.vue';
import Figures from './Figures.vue';
import FileInput from './FileInput.vue';
import Head from './Head.vue';
import More from './More.vue';
import NumberInput from './NumberInput.vue';
import State from './State.vue';
import Suggest from './Suggest.vue';
import Tags from './Tags.vue';
import TextInput from './TextInput.vue';

const shades = [
  { name: 'By day', isNight: false },
  { name: 'By night', isNight: true },
];
const schools = ['Gull Sound', 'Lantern Point', 'Marrow Bay'].map((label) => ({ value: label, label }));
const said = reactive({
  ...{ text: 'Tomi', late: 'Saved on Enter', count: 24 as number | null, day: '2026-08-17' as string | null },
  ...{ moment: '2026-08-17T08:30' as string | null, school: 'Gull Sound', typed: '', domains: ['isles.example'] },
  ...{ inPlace: 'Corrected where it stands' as string | null },
});
const states = ['loading', 'failed', 'refused', 'missing', 'empty'] as const;
const menu = ['Export', 'Rename', 'End'].map((label) => ({ label, run: () => undefined, danger: label === 'End' }));
const rows = [
  { name: 'Gull Sound', students: 264 },
  { name: 'Skerry Middle', students: 452 },
];
const words = {
  primary: 'Plan 4 changes',
  other: 'New staff',
  off: 'Nothing to change',
  danger: 'Withdraw',
  text: 'Back',
  ticked: 'Complete list',
  unticked: 'Sound',
  help: 'A name and a class are enough.',
  wrong: 'Choose a school.',
  good: 'Ready to apply',
};
</script>

<template>
  <main class="h-full overflow-auto grid [grid-template-columns:1fr_1fr]">
    <ConfigProvider v-for="{ name, isNight } in shades" :key="name" :theme="antTheme(isNight)">
      <section
        class="[color-scheme:light] grid gap-12px content-start p-16px bg-paper c-ink"
        :class="{ night: isNight }"
        :aria-label="name"
      >
        <Head :title="name" count="all parts">
          <template #about>{{ words.help }}</template>
          <template #actions>
            <More :items="menu" />
            <Button>{{ words.other }}</Button>
            <Button type="primary">{{ words.primary }}</Button>
          </template>
        </Head>
        <div class="row flex-wrap">
          <Button type="primary" disabled>{{ words.off }}</Button>
          <Button type="primary" loading>{{ words.primary }}</Button>
          <Button danger>{{ words.danger }}</Button>
          <Button type="text">{{ words.text }}</Button>
          <FileInput label="Open a file" accept=".csv" />
          <Checkbox checked>{{ words.ticked }}</Checkbox>
          <Checkbox>{{ words.unticked }}</Checkbox>
        </div>
        <div class="row flex-wrap">
          <TextInput v-model:value="said.text" aria-label="Text" />
          <TextInput v-model:value="said.late" lazy aria-label="Text, given back late" />
          <NumberInput v-model:value="said.count" :min="0" aria-label="Number" />
          <DayInput v-model:value="said.day" aria-label="Day" />
          <DayInput v-model:value="said.moment" at="08:00" aria-label="Moment" />
        </div>
        <div class="row flex-wrap">
          <Choice v-model:value="said.school" :options="schools" aria-label="Choice" />
          <Suggest v-model:value="said.typed" :options="schools" placeholder="School" aria-label="Suggestions" />
          <Tags v-model:value="said.domains" class="w-220px" aria-label="Several" />
          <EditInPlace :value="said.inPlace" :save="(after) => (said.inPlace = after)" aria-label="In place" />
        </div>
        <p>
          <span class="quiet">{{ words.help }}</span> <span class="rust">{{ words.wrong }}</span>
          <span class="stem">{{ words.good }}</span>
        </p>
        <Figures
          label="Figures"
          :rows="rows"
          :row-key="(row) => row.name"
          :columns="[
            { key: 'name', title: 'School', heading: true },
            { key: 'students', title: 'Students', number: true },
          ]"
        />
        <div v-for="kind in states" :key="kind" class="min-h-160px ruled">
          <State :kind="kind" what="classes" is-panel :slow="kind === 'loading'" />
        </div>
      </section>
    </ConfigProvider>
  </main>
</template>

<style scoped>
.night {
  color-scheme: dark;
}
</style>
