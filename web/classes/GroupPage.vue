<script setup lang="ts">
/** One group: its students, their cards, its name. */
import { spoken, t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { groupKinds } from '#core/classes/groups';
import { useCarryOut } from '@/frame/keys';
import EditInPlace from '@/kit/EditInPlace.vue';
import Page from '@/kit/Page.vue';
import { useLoad } from '@/kit/load';
import Roster from '@/people/Roster.vue';
import { useGroupActions } from './group-actions';

const router = useRouter();
const id = String(useRoute().params.id);
const page = useLoad(t('classes.thisGroup'), 'GET /api/groups/:id', { id });
const one = computed(() => page.data.value ?? null);
const actions = useGroupActions();
const end = async () => {
  if (one.value && (await actions.end(one.value))) await router.push('/classes/groups');
};
const print = () => router.push({ path: '/handouts', query: { group: id } });
useCarryOut(() => (one.value?.members ? print() : undefined));
</script>

<template>
  <Page v-if="one" :title="one.name" :count="t('common.countStudents', { n: one.members })">
    <template #back
      ><RouterLink to="/classes/groups">{{ t('classes.groups2') }}</RouterLink></template
    >
    <template #about>{{
      [one.className ?? t('classes.acrossClasses'), one.school, spoken(groupKinds[one.kind]), one.ruleText]
        .filter(Boolean)
        .join(' · ')
    }}</template>
    <template #actions>
      <Button type="primary" :disabled="one.members === 0" @click="print">{{ t('classes.printCards') }}</Button>
      <Button :disabled="one.members === 0" @click="actions.gather(one)">{{
        t('classes.gatherStudents', { n: one.members })
      }}</Button>
      <Button danger @click="end">{{ t('classes.endGroup2') }}</Button>
    </template>
    <Roster
      :filter="{ group: id }"
      :label="t('classes.studentsOf', { name: one.name })"
      :empty="t('classes.noStudents')"
    >
      <template #beside>
        <section class="about beside record" :aria-label="t('classes.about', { name: one.name })">
          <h2>{{ t('classes.details') }}</h2>
          <dl>
            <dt>
              <label for="group-name">{{ t('classes.name') }}</label>
            </dt>
            <dd>
              <EditInPlace
                id="group-name"
                :value="one.name"
                :maxlength="120"
                :save="(after) => actions.rename(one!, after ?? '')"
              />
            </dd>
          </dl>
          <p v-for="note in one.notes" :key="note" class="rust">{{ note }}</p>
        </section>
      </template>
    </Roster>
  </Page>
</template>

<style scoped>
.about {
  width: 330px;
}
</style>
