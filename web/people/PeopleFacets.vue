<script setup lang="ts">
/** What the list of people can be narrowed to, with how many there are of each; and the sheaves that were saved. */
import { SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import type { GroupRow, Lack, PeopleFacets, Standing } from '../../server/contract';
import Choice from '@/kit/Choice.vue';
import { useLoad } from '@/kit/load';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { t } from '@/words';
import Facets from '@/worksheet/Facets.vue';
import SavedSheaves from './SavedSheaves.vue';

defineProps<{ facets: PeopleFacets | undefined; gathered: boolean }>();
const lacks = defineModel<Lack | null>('lacks', { required: true });
const role = defineModel<string | null>('role', { required: true });
const status = defineModel<Standing | null>('status', { required: true });
const group = defineModel<string | null>('group', { required: true });

const session = useSession();
const sheaf = useSheaf();
const groups = useLoad(
  t('classes.groups'),
  'GET /api/groups',
  () => ({ query: { school: session.where.school ?? undefined } }),
  { alone: true, also: computed(() => sheaf.version), enabled: () => session.may('groups') },
);
const groupLabel = (g: GroupRow) =>
  [g.name, g.className, session.where.school ? null : g.school].filter(Boolean).join(' · ');
</script>

<template>
  <section class="facets" :aria-label="t('places.filters')">
    <template v-if="facets">
      <template v-if="!gathered">
        <Facets
          :title="t('common.school')"
          :facets="facets.school"
          :chosen="session.where.school"
          @choose="session.go({ school: $event })"
        />
        <Facets
          :title="t('common.grade')"
          :facets="facets.grade"
          :chosen="session.where.grade"
          @choose="session.go({ school: session.where.school, grade: $event })"
        />
        <Facets
          :title="t('common.class')"
          :facets="facets.class"
          :chosen="session.where.classId"
          @choose="session.go({ school: session.where.school, grade: session.where.grade, classId: $event })"
        />
      </template>
      <Facets
        :title="t('places.missing')"
        :facets="facets.lacks"
        :chosen="lacks"
        @choose="lacks = $event as Lack | null"
      />
      <Facets :title="t('places.role')" :facets="facets.role" :chosen="role" @choose="role = $event" />
    </template>
    <section v-if="groups.data.value?.length" class="px-12px pt-8px pb-4px text-13px">
      <h2>{{ t('frame.group') }}</h2>
      <Choice v-model:value="group" :aria-label="t('frame.group')">
        <SelectOption :value="null">{{ t('places.allGroups') }}</SelectOption>
        <SelectOption v-for="g in groups.data.value" :key="g.id" :value="g.id">{{ groupLabel(g) }}</SelectOption>
      </Choice>
    </section>
    <SavedSheaves />
    <Facets
      :title="t('places.status')"
      :facets="facets?.status ?? []"
      :chosen="status"
      @choose="status = $event as Standing | null"
    />
  </section>
</template>
