<script setup lang="ts">
/** Classes made by hand: several names in one line, each shown as it would be; what clashes says with whom. */
import { useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { Button } from 'ant-design-vue';
import { computed, onMounted, reactive, ref } from 'vue';
import type { ClassesOrder } from '../../server/api/contract';
import { gradeLabel, grades } from '#core/tabular/values';
import { useCarryOut } from '@/frame/keys';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import ClassPicker from './ClassPicker.vue';

const props = defineProps<{
  /** Where the focus was: the school to begin with. */
  school?: string | null;
}>();
const emit = defineEmits<{ close: []; made: []; open: [name: string] }>();
const session = useSession();
const work = useWork();
const schools = computed(() => session.me?.schools ?? []);
const form = reactive<ClassesOrder>({
  schoolId: session.where.school ?? props.school ?? schools.value[0]?.id ?? '',
  names: '',
  kind: 'homeroom',
  grade: null,
  subject: null,
  likeId: null,
  people: false,
});
const asked = refDebounced(
  computed(() => ({ ...form })),
  150,
);
const preview = useQuery({
  queryKey: ['new-classes', asked],
  queryFn: () => call('POST /api/classes/preview', { body: asked.value }),
  enabled: computed(() => asked.value.names.trim() !== ''),
  placeholderData: (before) => before,
  retry: false,
});
const shown = computed(() => (form.names.trim() === '' ? null : (preview.data.value ?? null)));
const busy = ref(false);
async function make(): Promise<void> {
  if (busy.value || !shown.value?.changes) return;
  busy.value = true;
  try {
    const { planId, sentence } = await call('POST /api/classes', { body: { ...form } });
    work.say(sentence, { label: 'Undo', run: () => work.undo(planId) });
    emit('made');
    emit('close');
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
async function askToTeach(classId: string, name: string): Promise<void> {
  try {
    await call('POST /api/requests', { body: { kind: 'teach', classId } });
    work.say(`Whoever teaches ${name}, or the coordinator, is asked.`);
  } catch (error) {
    work.wrong(error);
  }
}
const first = ref<HTMLInputElement | null>(null);
onMounted(() => first.value?.focus());
useCarryOut(make, { first: true });
</script>

<template>
  <section class="new ordering" aria-label="New classes" @keydown.esc.stop="$emit('close')">
    <div class="row ask">
      <h2>New classes</h2>
      <label class="names"
        >names <input ref="first" v-model="form.names" class="box" placeholder="3A-3D, 4A" autocomplete="off"
      /></label>
      <label
        >school
        <select v-model="form.schoolId" class="pick">
          <option v-for="s in schools" :key="s.id" :value="s.id">{{ s.name }}</option>
        </select></label
      >
      <label
        >grade
        <select v-model="form.grade" class="pick">
          <option :value="null">as the name begins</option>
          <option v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</option>
        </select></label
      >
      <label
        >kind
        <select v-model="form.kind" class="pick" :disabled="form.likeId !== null">
          <option value="homeroom">homeroom</option>
          <option value="course">course</option>
        </select></label
      >
      <label v-if="form.kind === 'course'">subject <input v-model="form.subject" class="box short" /></label>
      <label>like <ClassPicker v-model="form.likeId" none="no other class" /></label>
      <label v-if="form.likeId"><input v-model="form.people" type="checkbox" /> with its people</label>
      <span class="grow" />
      <button class="plain quiet" type="button" @click="$emit('close')">Back <kbd>Esc</kbd></button>
    </div>
    <div class="row then" aria-live="polite">
      <ul v-if="shown" class="grow shown">
        <li v-for="c in shown.classes" :key="c.name" :class="{ rust: c.clash }">
          <b>{{ c.name }}</b>
          <template v-if="c.clash">
            is there already{{ c.clash.teachers ? `: the class of ${c.clash.teachers}` : ', without a teacher' }}
            <button v-if="session.isCoordinator" class="plain dusk" type="button" @click="$emit('open', c.name)">
              open it
            </button>
            <button v-else class="plain dusk" type="button" @click="askToTeach(c.clash.classId, c.name)">
              ask to teach it
            </button>
          </template>
          <span v-else class="quiet"> {{ c.grade ? `grade ${gradeLabel(c.grade)}` : 'no grade' }}</span>
        </li>
      </ul>
      <p v-else class="grow quiet">
        {{ preview.error.value?.message ?? 'Names apart by commas; 3A-3D is four of them.' }}
      </p>
      <Button type="primary" :disabled="!shown?.changes || busy" @click="make"
        >Make {{ shown?.classes.filter((c) => !c.clash).length ?? 0 }} <kbd>Ctrl+Enter</kbd></Button
      >
    </div>
  </section>
</template>

<style scoped>
.new {
  border-bottom: 2px solid var(--ink);
}
.names input {
  width: 220px;
}
.short {
  width: 110px;
}
.shown li {
  display: flex;
  gap: 6px;
}
.shown {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  max-height: 72px;
  overflow: auto;
}
</style>
