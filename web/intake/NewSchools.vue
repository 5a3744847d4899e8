<script setup lang="ts">
/** Schools that the file names and the district does not have: each is made from here, with what the file calls it. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { ref } from 'vue';
import { call } from '@/api';
import { useChange } from '@/kit/change';
import { useSession } from '@/stores/session';
import { formOf } from '@/settings/kinds';
import type { NewSchool } from '#core/intake/index';
import { gradeLabel } from '#core/tabular/values';
import SchoolForm from '@/settings/SchoolForm.vue';

const props = defineProps<{ schools: readonly NewSchool[]; mayMake: boolean }>();
const emit = defineEmits<{ made: [] }>();
const session = useSession();
const open = ref<string | null>(null);
const change = useChange(() => session.load());
const busy = ref(false);
/** All of them as their rows say: they can be changed in Settings afterwards. */
async function makeAll(): Promise<void> {
  busy.value = true;
  const schools = props.schools.map((school) => ({ ...formOf(school), door: null }));
  const done = await change(
    () => call('POST /api/schools/many', { body: { schools } }),
    t('intake.schoolsAdded', { n: schools.length }),
  );
  busy.value = false;
  if (done) made();
}
function made(): void {
  open.value = null;
  emit('made');
}
</script>

<template>
  <section class="bg-straw-wash [border-left:4px_solid_var(--straw)] pt-6px pb-6px text-13px">
    <p class="row">
      <b class="grow">{{ t('intake.schoolsNotOnRecord') }}</b>
      <Button v-if="mayMake && schools.length > 1" size="small" :loading="busy" @click="makeAll">{{
        t('intake.addAllSchools', { n: schools.length })
      }}</Button>
    </p>
    <ul>
      <li v-for="school in schools" :key="school.name" class="py-3px">
        <div class="row">
          <span class="grow"
            >{{ school.name }}
            <span class="quiet">{{
              [
                school.identifier,
                t('intake.countRows', { n: school.rows }),
                school.grades.length > 0 ? t('intake.grades', { list: school.grades.map(gradeLabel).join(', ') }) : '',
              ]
                .filter(Boolean)
                .join(' · ')
            }}</span></span
          >
          <Button
            v-if="mayMake && open !== school.name"
            size="small"
            :aria-label="t('intake.addSchoolNamed', { name: school.name })"
            @click="open = school.name"
            >{{ t('intake.addSchool') }}</Button
          >
        </div>
        <SchoolForm v-if="open === school.name" :start="school" @made="made" @cancel="open = null" />
      </li>
    </ul>
    <p v-if="!mayMake" class="quiet">{{ t('intake.askForSchool') }}</p>
  </section>
</template>
