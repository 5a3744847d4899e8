<script setup lang="ts">
/** One pair at a time, with its evidence and the three answers. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import type { Evidence } from '#core/identity/index';
import PairTable, { type PairLine } from './PairTable.vue';

defineProps<{
  title: string;
  count: number;
  settled: number;
  position: number;
  loading: boolean;
  why: string;
  top: PairLine | undefined;
  below: PairLine[];
  chosen: number;
  evidence: Evidence[];
  keeps?: Partial<Record<string, 'keep' | 'gone'>>;
  same: string;
  different: string;
  empty: string;
}>();
defineEmits<{
  choose: [index: number];
  keep: [field: string, whose: 'keep' | 'gone'];
  same: [];
  different: [];
  later: [];
  back: [];
  close: [];
}>();
</script>

<template>
  <div class="pairs overflow-auto min-h-0" @keydown.esc="$emit('close')">
    <header class="row py-12px px-16px ruled-b">
      <h1>{{ title }}</h1>
      <span v-if="count > 0" class="quiet">{{ t('pairs.of', { min: Math.min(position + 1, count), count }) }}</span>
      <span v-if="settled > 0" class="stem">{{ t('pairs.resolved', { settled }) }}</span>
      <span class="grow" />
      <Button size="small" @click="$emit('close')">{{ t('common.back') }}</Button>
    </header>
    <p v-if="loading" class="quiet pad py-12px px-16px" role="status">{{ t('pairs.comparing') }}</p>
    <template v-else-if="top">
      <p class="pad py-12px px-16px">{{ why }}</p>
      <PairTable
        :top="top"
        :below="below"
        :chosen="chosen"
        :evidence="evidence"
        :keeps="keeps"
        @choose="$emit('choose', $event)"
        @keep="(field, whose) => $emit('keep', field, whose)"
      />
      <footer class="row p-16px ruled-t">
        <Button type="primary" @click="$emit('same')"
          ><span>{{ same }} <kbd>S</kbd></span></Button
        >
        <Button @click="$emit('different')"
          ><span>{{ different }} <kbd>D</kbd></span></Button
        >
        <Button v-if="count > 1" @click="$emit('later')"
          ><span>{{ t('pairs.later') }} <kbd>L</kbd></span></Button
        >
        <span class="grow" />
        <Button v-if="settled > 0" type="text" size="small" @click="$emit('back')"
          ><span> {{ t('pairs.undoTheLastDecision') }} <kbd>U</kbd></span>
        </Button>
        <span class="quiet">
          <template v-if="below.length > 1"><kbd>↑</kbd> <kbd>↓</kbd> {{ t('pairs.otherMatches') }} </template
          ><template v-if="count > 1"><kbd>←</kbd> <kbd>→</kbd> {{ t('pairs.otherPairs') }}</template>
        </span>
      </footer>
    </template>
    <p v-else class="pad py-12px px-16px">{{ empty }}</p>
  </div>
</template>

<style scoped>
footer kbd {
  color: inherit;
  margin-left: 6px;
}
</style>
