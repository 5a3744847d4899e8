<script setup lang="ts">
/** The mark; where, find, settings, help, who. */
import { QuestionCircleOutlined, SettingOutlined } from '@ant-design/icons-vue';
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import { useLoad } from '@/kit/load';
import FindField from './FindField.vue';
import PersonMenu from './PersonMenu.vue';

defineEmits<{ help: [] }>();

const session = useSession();
const router = useRouter();
const facets = useLoad(
  t('frame.filters'),
  'GET /api/people/facets',
  () => ({
    query: {
      school: session.where.school ?? undefined,
      grade: session.where.grade ?? undefined,
      role: 'student' as const,
    },
  }),
  { alone: true },
);
const grades = computed(() => facets.data.value?.grade ?? []);
const classes = computed(() => facets.data.value?.class ?? []);
// Where there is one alone, there is nothing to choose.
const hasSchools = computed(() => (session.me?.schools.length ?? 0) > 1 || session.where.school !== null);
const hasGrades = computed(
  () =>
    grades.value.length > 1 ||
    session.where.grade !== null ||
    (session.isCoordinator && facets.data.value === undefined),
);

function pickClass(id: string | null): void {
  const found = classes.value.find((c) => c.value === id);
  session.go({
    school: session.where.school,
    grade: session.where.grade,
    classId: id,
    className: found?.label ?? null,
  });
}
</script>

<template>
  <header class="head h-48px flex-none flex items-center gap-16px py-0 px-16px ruled-b">
    <a
      class="flex items-center gap-6px font-700 text-16px c-ink [text-decoration:none]"
      href="/"
      @click.prevent="router.push('/')"
      ><img src="/mark.svg" alt="" width="20" height="20" />{{ t('frame.sheaf') }}</a
    >
    <nav class="where row" :aria-label="t('frame.where')">
      <Button type="text" size="small" :class="{ strong: !session.where.school }" @click="session.go({})">
        {{ session.me?.district }}
      </Button>
      <span v-if="hasSchools" aria-hidden="true">›</span>
      <Choice
        v-if="hasSchools"
        :aria-label="t('common.school')"
        :value="session.where.school ?? ''"
        @update:value="(school) => session.go({ school: school || null })"
      >
        <SelectOption value="">{{ t('frame.allSchools') }}</SelectOption>
        <SelectOption v-for="s in session.me?.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </Choice>
      <span v-if="hasGrades" aria-hidden="true">›</span>
      <Choice
        v-if="hasGrades"
        :aria-label="t('common.grade')"
        :value="session.where.grade ?? ''"
        @update:value="(grade) => session.go({ school: session.where.school, grade: grade || null })"
      >
        <SelectOption value="">{{ t('frame.allGrades') }}</SelectOption>
        <SelectOption
          v-if="session.where.grade && !grades.some((g) => g.value === session.where.grade)"
          :value="session.where.grade"
        >
          {{ t('frame.grade', { grade: gradeLabel(session.where.grade) }) }}
        </SelectOption>
        <SelectOption v-for="g in grades" :key="g.value" :value="g.value">{{
          t('frame.grade2', { label: g.label })
        }}</SelectOption>
      </Choice>
      <template v-if="classes.length > 1 || session.where.classId">
        <span aria-hidden="true">›</span>
        <Choice
          :aria-label="t('common.class')"
          :value="session.where.classId ?? ''"
          @update:value="(id) => pickClass(id || null)"
        >
          <SelectOption value="">{{ t('frame.allClasses') }}</SelectOption>
          <SelectOption
            v-if="session.where.classId && !classes.some((c) => c.value === session.where.classId)"
            :value="session.where.classId"
            >{{ session.where.className ?? t('frame.oneClass') }}</SelectOption
          >
          <SelectOption v-for="c in classes" :key="c.value" :value="c.value">{{ c.label }}</SelectOption>
        </Choice>
      </template>
    </nav>
    <FindField />
    <div class="own flex items-center gap-4px">
      <RouterLink
        v-if="session.isCoordinator"
        to="/settings"
        :title="t('frame.settings')"
        :aria-label="t('frame.settings')"
        ><SettingOutlined aria-hidden="true"
      /></RouterLink>
      <Button type="text" :title="t('help.help')" :aria-label="t('help.help')" @click="$emit('help')"
        ><QuestionCircleOutlined aria-hidden="true"
      /></Button>
      <PersonMenu />
    </div>
  </header>
</template>

<style scoped>
@media (max-width: 700px) {
  .head {
    height: auto;
    flex-wrap: wrap;
    gap: 4px 12px;
    padding: 6px 12px;
  }
  .where {
    order: 2;
    width: 100%;
    flex-wrap: wrap;
    gap: 4px;
  }
  .head .where :deep(.choice) {
    max-width: 112px;
  }
  .own {
    margin-left: auto;
  }
  .where > span {
    display: none;
  }
  .head > :deep(.find) {
    order: 3;
    flex: 1 0 100%;
  }
}
.where {
  white-space: nowrap;
  color: var(--quiet);
  min-width: 0;
}
.where > * {
  color: var(--ink);
}
.where > span {
  color: var(--quiet);
}
.strong {
  font-weight: 650;
}
.where :deep(.choice) {
  max-width: 170px;
}
.own > a {
  padding: 4px 8px;
  color: var(--ink);
}
.own > a :deep(.anticon),
.own > button :deep(.anticon-question-circle) {
  font-size: 18px;
}
</style>
