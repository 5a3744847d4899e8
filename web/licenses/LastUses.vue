<script setup lang="ts">
/** When people last used what they hold a seat of: a list that a publisher gives out, as a file or pasted. */
import { locale, t } from '@/words';
import FileInput from '@/kit/FileInput.vue';
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
async function read(file: File): Promise<void> {
  text.value = await file.text();
}
async function take(): Promise<void> {
  try {
    const made = await call('POST /api/uses', { body: { text: text.value } });
    problems.value = made.problems;
    work.say(
      t('licenses.lastUsesImported', {
        taken: made.taken.toLocaleString(locale),
        not: made.problems.length > 0 ? t('licenses.linesWereSkipped', { problems: made.problems.length }) : '',
      }),
    );
    await reload();
    if (made.problems.length === 0) emit('close');
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form class="ordering" :aria-label="t('licenses.lastUse')" @submit.prevent="take" @keydown.esc.stop="emit('close')">
    <div class="ask row">
      <h2>{{ t('licenses.lastUse') }}</h2>
      <FileInput :label="t('kit.chooseAFile')" accept=".csv,.txt,text/csv" @file="read" />
      <span class="quiet">{{ t('licenses.withHeadingsForThePerson') }}</span>
      <span class="grow" />
      <Button html-type="submit" type="primary" :disabled="!text.trim()">{{ t('licenses.import') }}</Button>
      <Button type="text" size="small" @click="emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('licenses.esc') }}</kbd></span
        ></Button
      >
    </div>
    <Textarea
      ref="box"
      v-model:value="text"
      class="mono"
      :rows="3"
      :aria-label="t('licenses.theListAsCsv')"
      :placeholder="t('licenses.usernameProductLastUsed')"
    />
    <ul v-if="problems.length > 0" class="rust max-h-96px overflow-auto text-13px">
      <li v-for="p in problems" :key="p.line">{{ t('licenses.line', { line: p.line, message: p.message }) }}</li>
    </ul>
  </form>
</template>

<style scoped>
textarea {
  width: 100%;
  margin-top: 8px;
}
</style>
