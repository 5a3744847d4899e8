<script setup lang="ts">
/** One pair at a time, with its evidence and the three answers. */
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
  <div class="pairs" @keydown.esc="$emit('close')">
    <header class="row">
      <h1>{{ title }}</h1>
      <span v-if="count > 0" class="quiet">{{ Math.min(position + 1, count) }} of {{ count }}</span>
      <span v-if="settled > 0" class="stem">{{ settled }} settled</span>
      <span class="grow" />
      <Button size="small" @click="$emit('close')">Back</Button>
    </header>
    <p v-if="loading" class="quiet pad" role="status">Comparing …</p>
    <template v-else-if="top">
      <p class="pad">{{ why }}</p>
      <PairTable
        :top="top"
        :below="below"
        :chosen="chosen"
        :evidence="evidence"
        :keeps="keeps"
        @choose="$emit('choose', $event)"
        @keep="(field, whose) => $emit('keep', field, whose)"
      />
      <footer class="row">
        <Button type="primary" @click="$emit('same')"
          ><span>{{ same }} <kbd>S</kbd></span></Button
        >
        <Button @click="$emit('different')"
          ><span>{{ different }} <kbd>D</kbd></span></Button
        >
        <Button v-if="count > 1" @click="$emit('later')"
          ><span>Later <kbd>L</kbd></span></Button
        >
        <span class="grow" />
        <Button v-if="settled > 0" type="text" size="small" @click="$emit('back')"
          ><span> take the last one back <kbd>U</kbd></span>
        </Button>
        <span class="quiet">
          <template v-if="below.length > 1"><kbd>↑</kbd> <kbd>↓</kbd> who else · </template
          ><template v-if="count > 1"><kbd>←</kbd> <kbd>→</kbd> other pairs</template>
        </span>
      </footer>
    </template>
    <p v-else class="pad">{{ empty }}</p>
  </div>
</template>

<style scoped>
.pairs {
  overflow: auto;
  min-height: 0;
}
header {
  padding: 12px 16px;
  border-bottom: 1px solid var(--rule);
}
.pad {
  padding: 12px 16px;
}
footer {
  padding: 16px;
  border-top: 1px solid var(--rule);
}
footer kbd {
  color: inherit;
  margin-left: 6px;
}
</style>
