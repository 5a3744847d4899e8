<script setup lang="ts">
/** Joining a class by its code, on a small screen: the code, then who one is, then what came of it. One thing a page. */
import { spoken, t } from '@/words';
import DayInput from '@/kit/DayInput.vue';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, nextTick, onMounted, reactive, ref, watch } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import type { Joined } from '../../server/contract';
import { call } from '@/api';
import Door from '@/sign/Door.vue';
import { useSession } from '@/stores/session';
import { readCode, spelled } from '#core/codes/index';

const route = useRoute();
const session = useSession();
const step = ref<'code' | 'who' | 'done'>('code');
const typed = ref(String(route.params.code ?? ''));
const isStaff = ref(false);
const form = reactive({ givenName: '', familyName: '', number: '', birthDate: '', email: '' });
const failure = ref('');
const busy = ref(false);
const outcome = ref<Joined | null>(null);

const read = computed(() => readCode(typed.value));
/** Said while typing: a letter that is never in a code; what is just not finished is not said. */
const hint = computed(() =>
  'problem' in read.value && read.value.problem === 'letter' ? spoken(read.value.message) : '',
);
const signedIn = computed(() => session.may('own.page'));

async function next(): Promise<void> {
  failure.value = '';
  if ('problem' in read.value) {
    failure.value = spoken(read.value.message);
    return;
  }
  typed.value = spelled(read.value.code);
  if (signedIn.value) await send();
  else step.value = 'who';
}
async function send(): Promise<void> {
  busy.value = true;
  failure.value = '';
  const { givenName, familyName, number, birthDate, email } = form;
  const who = isStaff.value
    ? { givenName, familyName, email }
    : { givenName, familyName, number: number || null, birthDate: birthDate || null };
  try {
    outcome.value = await call('POST /api/join', { body: { code: typed.value, ...(signedIn.value ? {} : who) } });
    step.value = 'done';
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = false;
  }
}
const page = ref<HTMLElement | null>(null);
const focus = () =>
  void nextTick(() => {
    const at = (what: string) => page.value?.querySelector<HTMLElement>(what);
    (at('input') ?? at('a, button'))?.focus();
  });
watch(step, focus);
onMounted(async () => {
  await session.load();
  // Whoever came by the link or the QR has typed the code already.
  if (route.params.code) await next();
  focus();
});
const titles = computed(() => ({
  code: t('student.joinAClass'),
  who: t('student.whoAreYou'),
  done: outcome.value?.state === 'waits' ? t('student.yourTeacherWillCheck') : t('student.youAreIn'),
}));
</script>

<template>
  <Door :title="titles[step]">
    <div ref="page" class="page">
      <form v-if="step === 'code'" @submit.prevent="next">
        <label
          >{{ t('student.codeFromYourTeacher')
          }}<TextInput
            v-model:value="typed"
            class="code big"
            autocomplete="off"
            autocapitalize="characters"
            spellcheck="false"
            maxlength="24"
        /></label>
        <p v-if="failure || hint" class="wrong" role="alert">{{ failure || hint }}</p>
        <Button type="primary" size="large" html-type="submit" :loading="busy">{{ t('student.continue') }}</Button>
      </form>
      <form v-else-if="step === 'who'" @submit.prevent="send">
        <p class="quiet">
          {{ t('student.code') }} <b class="mono">{{ typed }}</b>{{ ' ' }}
          <Button size="small" @click="step = 'code'">{{ t('student.changeIt') }}</Button>
        </p>
        <label
          >{{ t('student.givenName')
          }}<TextInput v-model:value="form.givenName" required maxlength="100" autocomplete="given-name"
        /></label>
        <label
          >{{ t('student.familyName')
          }}<TextInput v-model:value="form.familyName" required maxlength="100" autocomplete="family-name"
        /></label>
        <template v-if="!isStaff">
          <label
            >{{ t('student.studentNumber')
            }}<TextInput v-model:value="form.number" class="code" autocomplete="off" inputmode="numeric" maxlength="40"
          /></label>
          <label
            >{{ t('student.orBirthDate')
            }}<DayInput v-model:value="form.birthDate" size="large" :placeholder="t('student.monthDayYear')"
          /></label>
        </template>
        <label v-else
          >{{ t('student.emailAddress')
          }}<TextInput v-model:value="form.email" type="email" required autocomplete="email"
        /></label>
        <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
        <Button type="primary" size="large" html-type="submit" :loading="busy">{{ t('student.join') }}</Button>
        <Button size="small" @click="isStaff = !isStaff">
          {{ isStaff ? t('student.iAmAStudent') : t('student.iWorkAtTheSchool') }}
        </Button>
      </form>
      <div v-else-if="outcome" class="done">
        <p v-if="outcome.state === 'waits'">
          {{ t('student.yourTeacherChecksItAnd', { school: outcome.className ?? outcome.school }) }}
        </p>
        <p v-else>
          <b>{{ outcome.className }}</b>
          {{
            t('student.at', {
              school: outcome.school,
              already: outcome.state === 'there' ? ` ${t('student.hadYouInItAlready')}` : '',
            })
          }}
        </p>
        <RouterLink :to="signedIn ? '/mine' : '/sign-in'">{{
          signedIn ? t('student.myPage') : t('student.signIn')
        }}</RouterLink>
      </div>
    </div>
  </Door>
</template>

<style scoped>
.big {
  font-size: 26px !important;
  height: 56px !important;
  text-transform: uppercase;
}
.done {
  display: grid;
  gap: 16px;
  font-size: 18px;
  overflow-wrap: anywhere;
}
.done a {
  padding: 8px 0;
}
</style>
