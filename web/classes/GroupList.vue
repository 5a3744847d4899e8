<script setup lang="ts">
/** All groups: of one class, or across the classes of a school. */
import { spoken, t } from '@/words';
import { computed, onMounted, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { groupKinds } from '#core/classes/groups';
import { useSession } from '@/stores/session';
import Head from '@/kit/Head.vue';
import TextInput from '@/kit/TextInput.vue';
import { useLoad } from '@/kit/load';
import { useQuery } from '@/kit/query';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';

const session = useSession();
const router = useRouter();
const typed = useQuery().text('q');
const narrow = computed({ get: () => typed.value ?? '', set: (text) => (typed.value = text) });
const list = useLoad(t('classes.groups'), 'GET /api/groups', () => ({
  query: { school: session.where.school ?? undefined, classId: session.where.classId ?? undefined },
}));
const rows = computed(() => {
  const words = narrow.value.toLocaleLowerCase();
  return (list.data.value ?? []).filter(({ name, className }) =>
    `${name} ${className ?? ''}`.toLocaleLowerCase().includes(words),
  );
});
const columns: Col[] = [
  { key: 'name', label: t('common.group'), width: 'minmax(160px, 1.4fr)', by: 'value' },
  { key: 'members', label: t('common.students'), width: '80px', align: 'right', by: 'value' },
  { key: 'className', label: t('common.class'), width: 'minmax(120px, 1fr)', by: 'value' },
  { key: 'school', label: t('common.school'), width: 'minmax(120px, 1fr)', by: 'value' },
  { key: 'kind', label: t('classes.kind'), width: 'minmax(120px, 1fr)' },
  { key: 'rule', label: t('classes.whoIsInIt'), width: 'minmax(160px, 1.2fr)' },
];
const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
</script>

<template>
  <section class="middle">
    <Head :title="t('classes.groups2')" :count="t('classes.countGroups', { n: rows.length })">
      <template #narrow>
        <TextInput
          v-model:value="narrow"
          :placeholder="t('classes.nameOrClass')"
          :aria-label="t('classes.nameOrClass')"
        />
      </template>
    </Head>
    <div class="list-below">
      <Worksheet
        ref="sheet"
        v-model:focused="focused"
        :label="t('classes.groups2')"
        name="groups"
        :rows="rows"
        :columns="columns"
        :empty="t('classes.noGroupsYetGatherStudents')"
        @open="(row) => router.push(`/groups/${row.id}`)"
      >
        <template #name="{ row }"
          ><RouterLink :to="`/groups/${row.id}`" tabindex="-1">{{ row.name }}</RouterLink></template
        >
        <template #className="{ row }"
          ><template v-if="row.className">{{ row.className }}</template
          ><span v-else class="quiet">{{ t('classes.acrossClasses') }}</span></template
        >
        <template #kind="{ row }">{{ spoken(groupKinds[row.kind]) }}</template>
        <template #rule="{ row }"
          ><span class="quiet">{{ row.ruleText ?? t('classes.chosenByHand') }}</span></template
        >
      </Worksheet>
    </div>
  </section>
</template>
