<script setup lang="ts">
/** When people last used what they hold a seat of: a list that a publisher gives out, as a file or pasted. */
import { Button, Textarea } from 'ant-design-vue';
import { ref } from 'vue';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { onShown, useAgain } from '@/kit/load';

const emit = defineEmits<{ close: [] }>();
const work = useWork();
const reload = useAgain();
const text = ref('');
const problems = ref<{ line: number; message: string }[]>([]);
const box = ref<HTMLTextAreaElement | null>(null);
onShown(() => box.value?.focus());
async function read(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (file) text.value = await file.text();
}
async function take(): Promise<void> {
  try {
    const made = await call('POST /api/uses', { body: { text: text.value } });
    problems.value = made.problems;
    work.say(
      `${made.taken.toLocaleString('en-US')} last uses are taken in${made.problems.length > 0 ? `; ${made.problems.length} lines are not` : ''}.`,
    );
    await reload();
    if (made.problems.length === 0) emit('close');
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form class="ordering" aria-label="Last uses" @submit.prevent="take" @keydown.esc.stop="emit('close')">
    <div class="ask row">
      <h2>Last uses</h2>
      <label>file <input type="file" accept=".csv,.txt,text/csv" @change="read" /></label>
      <span class="quiet">with headings for who (username, number or address), product and day</span>
      <span class="grow" />
      <Button html-type="submit" type="primary" :disabled="!text.trim()">Take them in</Button>
      <Button type="text" size="small" @click="emit('close')"
        ><span>Back <kbd>Esc</kbd></span></Button
      >
    </div>
    <Textarea
      ref="box"
      v-model:value="text"
      class="mono"
      :rows="3"
      aria-label="The list as CSV"
      placeholder="username,product,last used"
    />
    <ul v-if="problems.length > 0" class="rust">
      <li v-for="p in problems" :key="p.line">line {{ p.line }}: {{ p.message }}</li>
    </ul>
  </form>
</template>

<style scoped>
textarea {
  width: 100%;
  margin-top: 8px;
}
ul {
  max-height: 96px;
  overflow: auto;
  font-size: 13px;
}
</style>
