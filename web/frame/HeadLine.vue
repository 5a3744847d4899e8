<script setup lang="ts">
/** The mark; where, find, when, who. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { useDebounceFn } from '@vueuse/core';
import { computed } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import { useLoad } from '@/kit/load';

const session = useSession();
const router = useRouter();
const route = useRoute();
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

function pickClass(id: string | null): void {
  const found = classes.value.find((c) => c.value === id);
  session.go({
    school: session.where.school,
    grade: session.where.grade,
    classId: id,
    className: found?.label ?? null,
  });
}
const search = useDebounceFn(() => {
  if (session.find.trim().length >= 2 && route.path !== '/people') void router.push('/people');
}, 150);
function onEnter(): void {
  if (route.path !== '/people') void router.push('/people');
  document.querySelector<HTMLElement>('.place [role=grid]')?.focus();
}
async function leave(): Promise<void> {
  await session.leave();
}
</script>

<template>
  <header class="head">
    <a class="mark" href="/" @click.prevent="router.push('/')"
      ><img src="/mark.svg" alt="" width="20" height="20" />{{ t('frame.sheaf') }}</a
    >
    <nav class="where row" :aria-label="t('frame.where')">
      <Button type="text" size="small" :class="{ strong: !session.where.school }" @click="session.go({})">
        {{ session.me?.district }}
      </Button>
      <span aria-hidden="true">›</span>
      <Choice
        :aria-label="t('common.school')"
        :value="session.where.school ?? ''"
        @update:value="(school) => session.go({ school: school || null })"
      >
        <SelectOption value="">{{ t('frame.allSchools') }}</SelectOption>
        <SelectOption v-for="s in session.me?.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </Choice>
      <span aria-hidden="true">›</span>
      <Choice
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
      <template v-if="classes.length > 0 || session.where.classId">
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
    <div class="find grow">
      <TextInput
        id="find"
        v-model:value="session.find"
        type="search"
        :aria-label="t('frame.findPeople')"
        :placeholder="t('frame.findNameNumberOrUsername')"
        autocomplete="off"
        @input="search"
        @keydown.enter="onEnter"
        @keydown.esc="session.find = ''"
      />
    </div>
    <RouterLink v-if="session.isCoordinator" to="/settings">{{ t('frame.settings') }}</RouterLink>
    <span class="quiet">{{ session.me?.year.name }}</span>
    <RouterLink to="/profile">{{ session.me?.name }}</RouterLink>
    <Button type="text" size="small" @click="leave">{{ t('frame.signOut') }}</Button>
  </header>
</template>

<style scoped>
.head {
  height: 48px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 16px;
  border-bottom: 1px solid var(--rule);
}
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
    overflow-x: auto;
  }
  .where > span,
  .head > .quiet {
    display: none;
  }
  .find {
    order: 3;
    flex: 1 0 100%;
  }
}
.mark {
  display: flex;
  align-items: center;
  gap: 6px;
  font-weight: 700;
  font-size: 16px;
  color: var(--ink);
  text-decoration: none;
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
  max-width: 190px;
}
.find {
  display: flex;
  justify-content: flex-end;
}
.find input {
  font: inherit;
  color: inherit;
  width: 100%;
  max-width: 360px;
  height: 30px;
  padding: 0 8px;
  border: 1px solid var(--rule);
  border-radius: 2px;
  background: var(--sheet);
}
.find input::placeholder {
  color: var(--quiet);
}
</style>
