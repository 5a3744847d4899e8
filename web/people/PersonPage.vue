<script setup lang="ts">
/** One person, on a page of their own. */
import { t } from '@/words';
import { computed } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import RecordSheet from './RecordSheet.vue';

const route = useRoute();
const router = useRouter();
const id = computed(() => String(route.params.id));
</script>

<template>
  <section class="person">
    <p class="back">
      <RouterLink to="/people">{{ t('people.people2') }}</RouterLink>
    </p>
    <RecordSheet :id="id" page @open="(other) => router.push(`/people/${other}`)" @close="router.push('/people')" />
  </section>
</template>

<style scoped>
.person {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.back {
  padding: 8px 16px 0;
  font-size: 13px;
}
</style>
