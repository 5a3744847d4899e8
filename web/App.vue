<script setup lang="ts">
import { ConfigProvider } from 'ant-design-vue';
import { nextTick, ref, watch } from 'vue';
import { RouterView } from 'vue-router';
import AwayLine from './frame/AwayLine.vue';
import Part from './kit/Part.vue';
import ConfirmPassword from './profile/ConfirmPassword.vue';
import { antTheme } from './theme/antd';
import { antLocale } from './theme/locale';
import { useNight, useTheme } from './theme/theme';

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
    ><AwayLine /><Part><RouterView /></Part><ConfirmPassword
  /></ConfigProvider>
</template>
