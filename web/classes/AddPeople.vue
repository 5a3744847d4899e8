<script setup lang="ts">
/** Adds students and co-teachers of the school to a class, one after the other; who is not found can be asked for. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import type { ClassRow } from '../../server/contract';
import { useRouter } from 'vue-router';
import { call, upload } from '@/api';
import { type Grade, gradeLabel } from '#core/tabular/values';
import { useChange } from '@/kit/change';
import Suggest from '@/kit/Suggest.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { onShown, useLoad } from '@/kit/load';
import RequestStudent from './RequestStudent.vue';

const props = defineProps<{ one: ClassRow }>();
const emit = defineEmits<{ close: []; changed: [] }>();
const session = useSession();
const work = useWork();
const router = useRouter();
const typed = ref('');
const find = refDebounced(typed, 120);
const found = useLoad(
  t('classes.people'),
  'GET /api/classes/:id/candidates',
  () => ({ id: props.one.id, query: { q: find.value.trim() } }),
  { enabled: () => find.value.trim().length >= 2, alone: true, forget: true },
);
const isAsked = computed(() => find.value.trim().length >= 2 && !found.isFetching.value && !found.error.value);
const options = computed(() =>
  (find.value.trim().length >= 2 ? (found.data.value ?? []) : []).map((person) => ({
    value: person.personId,
    disabled: person.isIn,
    person,
  })),
);
const box = ref<HTMLElement | null>(null);
const focus = () => box.value?.querySelector('input')?.focus();
onShown(focus);

/** Several lines are a list: it becomes an import into this class, which is looked at before anything is done. */
async function paste(event: ClipboardEvent): Promise<void> {
  const text = event.clipboardData?.getData('text/plain') ?? '';
  if (!session.may('imports') || text.trim().split(/\r?\n/).length < 2) return;
  event.preventDefault();
  try {
    const name = `${t('classes.pastedIntoClass', { class: props.one.name })}.csv`;
    const { id } = await upload(new Blob([text]), name);
    const { draft } = await call('GET /api/intakes/:id', { id });
    const { schoolId, grade, name: className, kind } = props.one;
    const whole = { className, ...(kind === 'homeroom' && grade ? { grade: grade as Grade } : {}) };
    await call('POST /api/intakes/:id/draft', { id, body: { ...draft, schoolId, whole } });
    await router.push({ path: `/imports/${id}`, query: { class: props.one.id } });
  } catch (error) {
    work.wrong(error);
  }
}
const change = useChange(() => emit('changed'));
async function add(personId: string): Promise<void> {
  typed.value = '';
  const { id } = props.one;
  await change(
    () => call('POST /api/classes/:id/people', { id, body: { personId } }),
    ({ sentence }) => sentence,
  );
  focus();
}
const requesting = ref(false);
</script>

<template>
  <section
    ref="box"
    class="ordering"
    :aria-label="t('classes.addTo', { name: one.name })"
    @keydown.esc="emit('close')"
    @paste="paste"
  >
    <div class="ask row">
      <label
        >{{ t('classes.studentOrTeacher') }}
        <Suggest
          v-model:value="typed"
          :options="options"
          class="w-300px"
          :placeholder="session.may('classes.all') ? t('classes.nameNumberOrUsername') : t('classes.nameOfPerson')"
          @select="add"
        >
          <template #option="{ person }">
            <span class="flex gap-8px"
              ><b>{{ person.name }}</b>
              <span class="quiet">{{
                person.isIn
                  ? t('classes.alreadyInThisClass')
                  : person.role === 'staff'
                    ? t('classes.staffBecomesACoTeacher')
                    : [person.grade && t('classes.grade2', { grade: gradeLabel(person.grade) }), person.homeroom]
                        .filter(Boolean)
                        .join(' · ')
              }}</span>
              <span v-if="person.leaves" class="rust">{{ t('classes.movesFromThereTheTeacher') }}</span></span
            >
          </template>
        </Suggest></label
      >
      <span v-if="isAsked && options.length === 0" class="rust" role="status">{{
        t('classes.noOneAtMatches', { school: one.school, trim: find.trim() })
      }}</span>
      <span v-if="session.may('imports')" class="quiet">{{ t('classes.orPasteAList') }}</span>
      <Button v-if="!session.may('people.verbs') && !requesting" @click="requesting = true">{{
        t('classes.requestAStudent')
      }}</Button>
      <Button @click="emit('close')">{{ t('common.done') }}</Button>
    </div>
    <RequestStudent v-if="requesting" :one="one" @close="requesting = false" />
  </section>
</template>
