<script setup lang="ts">
import { ConfigProvider } from 'ant-design-vue';
import { usePreferredDark } from '@vueuse/core';
import { computed } from 'vue';
import { RouterView } from 'vue-router';
import AwayLine from './frame/AwayLine.vue';
import Part from './kit/Part.vue';
import ConfirmPassword from './profile/ConfirmPassword.vue';
import { antTheme } from './theme/antd';

const dark = usePreferredDark();
const theme = computed(() => (void dark.value, antTheme()));
</script>

<template>
  <ConfigProvider :theme="theme" :auto-insert-space-in-button="false"
    ><AwayLine /><Part><RouterView /></Part><ConfirmPassword
  /></ConfigProvider>
</template>
