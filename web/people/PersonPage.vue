<script setup lang="ts">
/** One person, on a page of their own. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, nextTick, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { givenShown } from '#core/entities/index';
import Page from '@/kit/Page.vue';
import { onShown, useAgain, useLoad } from '@/kit/load';
import { usePassword } from './password';
import RecordSheet from './RecordSheet.vue';
import { whereOf } from './where';

const route = useRoute();
const router = useRouter();
const reload = useAgain();
const id = computed(() => String(route.params.id));
const sheet = useLoad(t('people.theRecord'), 'GET /api/people/:id', () => ({ id: id.value }));
const one = computed(() => sheet.data.value ?? null);
const hasCard = computed(() => one.value?.person.role === 'student' && one.value.account !== null);
const { busy, renew, printCard } = usePassword(id, () => reload());
const acts = ref<HTMLElement | null>(null);
const focus = (i: number) => acts.value?.querySelectorAll<HTMLElement>('button')[i]?.focus();
onShown(() => focus(0));
/** With the password goes the card. */
async function renewFirst(): Promise<void> {
  await renew();
  await nextTick();
  focus(1);
}
</script>

<template>
  <Page v-if="one" scrolls :title="`${givenShown(one.person)} ${one.person.familyName}`">
    <template #back
      ><RouterLink to="/people">{{ t('people.people2') }}</RouterLink></template
    >
    <template #about>{{ whereOf(one) }}</template>
    <template #actions>
      <div v-if="hasCard" ref="acts" class="row">
        <Button :loading="busy" @click="renewFirst">{{ t('people.newPassword') }}</Button>
        <Button @click="printCard">{{ t('people.printCard') }}</Button>
      </div>
    </template>
    <RecordSheet :id="id" page @open="(other) => router.push(`/people/${other}`)" @close="router.push('/people')" />
  </Page>
</template>
