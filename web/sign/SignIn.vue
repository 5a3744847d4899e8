<script setup lang="ts">
/** Username and secret, or a card: its code may also be scanned into the first field. */
import { Button } from 'ant-design-vue';
import { onMounted, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import Door from './Door.vue';

const router = useRouter();
const session = useSession();
const username = ref('');
const secret = ref('');
const shown = ref(false);
const failure = ref('');
const busy = ref(false);
const first = ref<HTMLInputElement | null>(null);
onMounted(() => first.value?.focus());

/** A scanner types the card's address and Enter. */
const isCard = () => /\/c\/[0-9A-Za-z]{26}\/?$/.test(username.value.trim());
async function go(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    if (isCard()) await call('POST /api/sign-in/card', { body: { code: username.value } });
    else await call('POST /api/sign-in', { body: { username: username.value, secret: secret.value } });
    session.me = null;
    await router.push('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <Door title="Sign in">
    <form @submit.prevent="go">
      <label
        >Username, or scan your card<input
          ref="first"
          v-model="username"
          class="code"
          autocomplete="username"
          autocapitalize="none"
          spellcheck="false"
      /></label>
      <label
        >Secret<input
          v-model="secret"
          class="code"
          :type="shown ? 'text' : 'password'"
          autocomplete="current-password"
          autocapitalize="none"
          spellcheck="false"
          :required="!isCard()"
      /></label>
      <label class="show"><input v-model="shown" type="checkbox" /> show what I type</label>
      <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
      <Button type="primary" size="large" html-type="submit" :loading="busy">Sign in</Button>
    </form>
    <RouterLink to="/join">I have a code for a class</RouterLink>
  </Door>
</template>

<style scoped>
.show {
  display: flex !important;
  align-items: center;
  gap: 8px !important;
}
.show input {
  width: 20px !important;
  height: 20px !important;
}
</style>
