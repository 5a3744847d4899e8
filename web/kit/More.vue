<script setup lang="ts">
/** Actions behind one button: those of a page that are needed seldom, or the choices of one thing. */
import { t } from '@/words';
import { CheckOutlined, DownOutlined } from '@ant-design/icons-vue';
import { Button, Dropdown, Menu, MenuItem, MenuItemGroup } from 'ant-design-vue';
import { computed, Fragment } from 'vue';

export interface MenuAction {
  label: string;
  run: () => void;
  danger?: boolean;
  /** It is how things are now. */
  current?: boolean;
  /** The heading that it stands under, with those beside it of the same. */
  group?: string;
}
const props = defineProps<{ items: readonly MenuAction[]; label?: string; plain?: boolean }>();
const groups = computed(() => {
  const made: { title: string; items: MenuAction[] }[] = [];
  for (const item of props.items) {
    const last = made.at(-1);
    if (last?.title === (item.group ?? '')) last.items.push(item);
    else made.push({ title: item.group ?? '', items: [item] });
  }
  return made;
});
</script>

<template>
  <Dropdown :trigger="['click']" destroy-popup-on-hide>
    <Button aria-haspopup="menu" :type="plain ? 'text' : 'default'"
      ><slot name="icon" />{{ label ?? t('kit.more') }} <DownOutlined aria-hidden="true"
    /></Button>
    <template #overlay>
      <Menu>
        <template v-for="(group, i) in groups" :key="i">
          <component :is="group.title ? MenuItemGroup : Fragment" :title="group.title || undefined">
            <MenuItem v-for="item in group.items" :key="item.label" :danger="item.danger" @click="item.run()"
              >{{ item.label
              }}<span v-if="item.current"><CheckOutlined :aria-label="t('kit.current')" class="check" /></span
            ></MenuItem>
          </component>
        </template>
      </Menu>
    </template>
  </Dropdown>
</template>

<style scoped>
.check {
  margin-left: 8px;
}
</style>
