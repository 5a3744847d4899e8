<script setup lang="ts">
/** Where the code of a card leads: it signs the child in by itself. */
import { t } from '@/words';
import { onMounted, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import Door from './Door.vue';

const route = useRoute();
const router = useRouter();
const session = useSession();
const failure = ref('');
onMounted(async () => {
  const code = location.hash.slice(1) || String(route.params.code ?? '');
  // The code stays out of the history.
  history.replaceState(history.state, '', '/c');
  try {
    await call('POST /api/sign-in/card', { body: { code } });
    session.me = null;
    await router.replace('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  }
});
</script>

<template>
  <Door :title="failure ? t('sign.thisCardDoesNotWork') : t('sign.oneMoment')">
    <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
    <RouterLink v-if="failure" to="/sign-in">{{ t('sign.signInWithUsernameAnd') }}</RouterLink>
  </Door>
</template>
