<script setup lang="ts">
/** Signing in, in the ways that are offered here: username with a secret or with pictures, a card scanned, the district's sign-on. */
import { useQuery } from '@tanstack/vue-query';
import { Button } from 'ant-design-vue';
import { computed, onMounted, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import type { Way } from '../../server/api/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import Door from './Door.vue';
import PicturePad from './PicturePad.vue';

const route = useRoute();
const router = useRouter();
const session = useSession();
const username = ref('');
const secret = ref('');
const tapped = ref<string[]>([]);
const shown = ref(false);
const failure = ref(String(route.query.why ?? ''));
const busy = ref(false);
const first = ref<HTMLInputElement | null>(null);
onMounted(() => first.value?.focus());

const at = computed(() => (route.params.school ? String(route.params.school) : undefined));
const door = useQuery({
  queryKey: ['door', at],
  queryFn: () => call('GET /api/door', { query: { at: at.value } }),
  retry: false,
});
const has = (way: Way) => door.data.value?.ways.includes(way) ?? way === 'secret';
const byPictures = ref(false);
watch(
  () => door.data.value,
  () => {
    // Where pictures are all that is offered, they are there at once.
    if (has('pictures') && !has('secret')) byPictures.value = true;
  },
);
/** A scanner types the card's address and Enter. */
const isCard = () => /\/c\/[0-9A-Za-z]{26}\/?$/.test(username.value.trim());
async function go(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    if (isCard()) await call('POST /api/sign-in/card', { body: { code: username.value } });
    else
      await call('POST /api/sign-in', {
        body: { username: username.value, secret: byPictures.value ? tapped.value.join('-') : secret.value },
      });
    session.me = null;
    await router.push('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
    tapped.value = [];
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <Door :title="door.data.value?.school ?? 'Sign in'">
    <form @submit.prevent="go">
      <label
        >{{ has('card') ? 'Username, or scan your card' : 'Username'
        }}<input
          ref="first"
          v-model="username"
          class="code"
          autocomplete="username"
          autocapitalize="none"
          spellcheck="false"
      /></label>
      <PicturePad v-if="byPictures" v-model="tapped" />
      <template v-else>
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
      </template>
      <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
      <Button type="primary" size="large" html-type="submit" :loading="busy">Sign in</Button>
    </form>
    <p v-if="door.error.value" class="quiet">{{ door.error.value.message }}</p>
    <button
      v-if="has('pictures') && has('secret')"
      class="plain dusk way"
      type="button"
      @click="byPictures = !byPictures"
    >
      {{ byPictures ? 'I have a secret of words' : 'My secret is pictures' }}
    </button>
    <a v-if="has('sign-on')" class="way" href="/api/sign-on">Sign in with the district’s account</a>
    <RouterLink class="way" to="/join">I have a code for a class</RouterLink>
  </Door>
</template>

<style scoped>
.way {
  font-size: 16px;
}
</style>
