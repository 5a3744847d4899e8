import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import '@fontsource/atkinson-hyperlegible-mono/400.css';
import 'ant-design-vue/dist/reset.css';
import './theme/base.css';
import 'virtual:uno.css';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { queryConfig } from './kit/load';
import { router } from './router';

createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClientConfig: queryConfig }).use(router).mount('#app');
