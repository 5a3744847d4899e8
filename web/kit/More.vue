<script setup lang="ts">
/** Actions behind one button: those of a page that are needed seldom, or the choices of one thing. */
import { t } from '@/words';
import { CheckOutlined, DownOutlined } from '@ant-design/icons-vue';
import { Button, Dropdown, Menu, MenuItem, MenuItemGroup } from 'ant-design-vue';
import { computed, nextTick, ref } from 'vue';

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
/** The menu is elsewhere on the page: its keys begin and end at the button. */
const box = ref<HTMLElement | null>(null);
const menu = ref<{ $el: HTMLElement } | null>(null);
const isOpen = ref(false);
const entries = () => [...(menu.value?.$el.querySelectorAll<HTMLElement>('[role=menuitem]') ?? [])];
const leave = () => {
  isOpen.value = false;
  box.value?.querySelector('button')?.focus();
};
async function change(is: boolean): Promise<void> {
  isOpen.value = is;
  await nextTick();
  if (is) setTimeout(() => entries()[0]?.focus(), 50);
}
function onKey(event: KeyboardEvent): void {
  const all = entries();
  const at = all.indexOf(document.activeElement as HTMLElement);
  const to = { ArrowDown: at + 1, ArrowUp: at - 1 + all.length, Home: 0, End: all.length - 1 }[event.key];
  if (to !== undefined) all[to % all.length]?.focus();
  else if (event.key === 'Enter' || event.key === ' ') all[at]?.click();
  else if (event.key === 'Escape' || event.key === 'Tab') leave();
  else return;
  event.preventDefault();
  event.stopPropagation();
}
function choose(item: MenuAction): void {
  leave();
  item.run();
}
</script>

<template>
  <span ref="box">
    <Dropdown :open="isOpen" :trigger="['click']" destroy-popup-on-hide @open-change="change">
      <Button aria-haspopup="menu" :aria-expanded="isOpen" :type="plain ? 'text' : 'default'"
        ><slot name="icon" />{{ label ?? t('kit.more') }} <DownOutlined aria-hidden="true"
      /></Button>
      <template #overlay>
        <Menu ref="menu" @keydown.capture="onKey">
          <template v-for="(group, i) in groups" :key="i">
            <MenuItemGroup v-if="group.title" :title="group.title">
              <MenuItem v-for="item in group.items" :key="item.label" :danger="item.danger" @click="choose(item)"
                >{{ item.label }}<CheckOutlined v-if="item.current" :aria-label="t('kit.current')" class="ml-8px"
              /></MenuItem>
            </MenuItemGroup>
            <template v-else>
              <MenuItem v-for="item in group.items" :key="item.label" :danger="item.danger" @click="choose(item)">{{
                item.label
              }}</MenuItem>
            </template>
          </template>
        </Menu>
      </template>
    </Dropdown>
  </span>
</template>
