<script setup lang="ts">
/** The first run: who this is for, the first school, and the first coordinator, on one sheet. */
import { Button } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '@/api';
import { gradeLabel, grades } from '#core/tabular/values';
import { patternError, usernameOf } from '#core/accounts/username';
import Door from './Door.vue';

const router = useRouter();
const form = reactive({
  code: '',
  district: '',
  school: '',
  lowGrade: 'KG',
  highGrade: '08',
  givenName: '',
  familyName: '',
  username: '',
  password: '',
  digits: 6 as number | '',
  usernamePattern: '{given:1}{family}',
});
const wrong = computed(() => patternError(form.usernamePattern));
const example = computed(() =>
  usernameOf(form.usernamePattern, { givenName: 'Wren', middleName: '', familyName: 'Anstruther', number: '004120' }),
);
const failure = ref('');
const taught = grades.slice(4, 18);
async function go(): Promise<void> {
  failure.value = '';
  try {
    await call('POST /api/setup', { body: { ...form, numberDigits: form.digits === '' ? null : form.digits } });
    await call('POST /api/sign-in', { body: { username: form.username, secret: form.password } });
    await router.push('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  }
}
</script>

<template>
  <Door title="Set up Sheaf" wide>
    <p>
      Nothing is here yet. Name the district and its first school, and make your own account; people and classes come
      with the files of the intake.
    </p>
    <form @submit.prevent="go">
      <label
        >Set-up code, printed where Sheaf was started<input
          v-model="form.code"
          class="code"
          required
          autofocus
          autocomplete="off"
          autocapitalize="characters"
          spellcheck="false"
      /></label>
      <label>District, or school if it is just one<input v-model="form.district" required maxlength="200" /></label>
      <label>First school<input v-model="form.school" required maxlength="200" /></label>
      <div class="pair">
        <label
          >from grade<select v-model="form.lowGrade">
            <option v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</option>
          </select></label
        >
        <label
          >to grade<select v-model="form.highGrade">
            <option v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</option>
          </select></label
        >
      </div>
      <div class="pair">
        <label>Your given name<input v-model="form.givenName" required /></label
        ><label>Your family name<input v-model="form.familyName" required /></label>
      </div>
      <label
        >Username<input
          v-model="form.username"
          class="code"
          required
          autocapitalize="none"
          spellcheck="false"
          autocomplete="username"
      /></label>
      <label
        >Password, at least 8 characters<input
          v-model="form.password"
          class="code"
          type="password"
          required
          autocomplete="new-password"
      /></label>
      <div class="pair">
        <label
          >Digits of a student number<input v-model="form.digits" type="number" min="3" max="12" placeholder="any form"
        /></label>
        <label
          >Students’ usernames<input
            v-model="form.usernamePattern"
            class="code"
            autocapitalize="none"
            spellcheck="false"
        /></label>
      </div>
      <p :class="wrong ? 'rust' : 'quiet'">
        {{ wrong ?? 'Wren Anstruther, 004120, would be' }} <span v-if="!wrong" class="mono">{{ example }}</span>
      </p>
      <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
      <Button type="primary" size="large" html-type="submit">Set up and sign in</Button>
    </form>
  </Door>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
