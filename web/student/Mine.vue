<script setup lang="ts">
/** A child's own page: who they are and their classes. One thing a page, large type. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { useSession } from '@/stores/session';
import MyWork from './MyWork.vue';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const router = useRouter();
const route = useRoute();
const mine = useLoad(t('student.yourPage'), 'GET /api/mine');
async function leave(): Promise<void> {
  await session.leave();
  await router.push('/sign-in');
}
</script>

<template>
  <main class="mine">
    <template v-if="mine.data.value">
      <p class="flex items-center gap-8px font-700">
        <img src="/mark.svg" alt="" width="28" height="28" />{{ t('student.sheaf') }}
      </p>
      <h1 class="text-32px lh-[1.15] break-anywhere">
        {{ t('student.hello', { givenName: mine.data.value.givenName }) }}
      </h1>
      <Part fit><MyWork :first="String(route.params.work ?? '')" /></Part>
      <h2 class="text-18px">{{ t('student.myClasses') }}</h2>
      <ul>
        <li
          v-for="c in mine.data.value.classes"
          :key="c.name"
          class="grid py-12px px-0 [border-top:2px_solid_var(--rule)] break-anywhere"
        >
          <b>{{ c.name }}</b><span v-if="c.teachers" class="quiet">{{ c.teachers }}</span
          ><span v-if="c.goal">{{ t('student.goal', c.goal) }}</span>
        </li>
      </ul>
      <p v-if="mine.data.value.classes.length === 0">{{ t('student.youAreNotInA') }}</p>
      <RouterLink to="/join">{{ t('student.iHaveACodeFor') }}</RouterLink>
      <p class="quiet">
        {{ t('student.youAreSignedInAs') }}
        <span class="mono text-17px break-anywhere">{{ mine.data.value.username }}</span>.
      </p>
      <Button size="large" @click="leave">{{ t('student.signOut') }}</Button>
    </template>
  </main>
</template>

<style scoped>
.mine {
  max-width: 560px;
  margin: 0 auto;
  padding: 24px 20px 48px;
  display: flex;
  flex-direction: column;
  gap: 18px;
  align-items: stretch;
  font-size: 18px;
}
li b {
  font-size: 22px;
}
</style>
