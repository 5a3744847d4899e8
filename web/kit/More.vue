<script setup lang="ts">
/** The actions of a page that are needed seldom, behind one button. */
import { t } from '@/words';
import { Button, Dropdown, Menu, MenuItem } from 'ant-design-vue';

defineProps<{ items: readonly { label: string; run: () => void; danger?: boolean }[]; label?: string }>();
</script>

<template>
  <Dropdown :trigger="['click']" destroy-popup-on-hide>
    <Button aria-haspopup="menu">{{ label ?? t('kit.more') }} <span class="down" aria-hidden="true">▾</span></Button>
    <template #overlay>
      <Menu>
        <MenuItem v-for="item in items" :key="item.label" :danger="item.danger" @click="item.run()">{{
          item.label
        }}</MenuItem>
      </Menu>
    </template>
  </Dropdown>
</template>

<style scoped>
.down {
  margin-left: 6px;
}
</style>
