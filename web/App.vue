<script setup lang="ts">
import { ConfigProvider } from 'ant-design-vue';
import { defineAsyncComponent, nextTick, ref, watch } from 'vue';
import { RouterView } from 'vue-router';
import { asked } from './confirm';
import AwayLine from './frame/AwayLine.vue';
import Part from './kit/Part.vue';
import { leaving } from './kit/unsaved';
import { antTheme } from './theme/antd';
import { antLocale } from './theme/locale';
import { useNight, useTheme } from './theme/theme';

// Questions that most visits never meet come when they are asked for the first time, and stay.
const ConfirmPassword = defineAsyncComponent(() => import('./profile/ConfirmPassword.vue'));
const LeaveDialog = defineAsyncComponent(() => import('./kit/LeaveDialog.vue'));
const was = ref({ asked: false, leaving: false });
watch([asked, leaving], ([question, way]) => {
  if (question) was.value.asked = true;
  if (way) was.value.leaving = true;
});

useTheme();
const isNight = useNight();
const theme = ref(antTheme(isNight.value));
// The page has the other colors first.
watch(isNight, async (is) => {
  await nextTick();
  theme.value = antTheme(is);
});
</script>

<template>
  <ConfigProvider :theme="theme" :locale="antLocale" :auto-insert-space-in-button="false"
    ><AwayLine /><Part><RouterView /></Part><ConfirmPassword v-if="was.asked" /><LeaveDialog v-if="was.leaving"
  /></ConfigProvider>
</template>
