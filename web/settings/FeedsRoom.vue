<script setup lang="ts">
/** The feeds on a page of their own; their files are opened in Imports. */
import { useRouter } from 'vue-router';
import Feeds from '@/intake/Feeds.vue';
import { t } from '@/words';

const router = useRouter();
</script>

<template>
  <section>
    <h1 class="sr">{{ t('settings.feeds') }}</h1>
    <Feeds
      @choose="(feedId) => router.push({ path: '/imports', query: { feed: feedId } })"
      @open="({ id }) => router.push({ path: '/imports', query: { feed: id } })"
    />
  </section>
</template>
