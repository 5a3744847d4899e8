<script setup lang="ts">
/** Everything about one person, beside the list. Fields are edited in place; each edit is a plan of one change. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '@/api';
import Contacts from './Contacts.vue';
import RecordAccount from './RecordAccount.vue';
import RecordFields from './RecordFields.vue';
import PersonUse from './PersonUse.vue';
import RequestName from './RequestName.vue';
import Part from '@/kit/Part.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { dayOfWords, dayWords } from '@/time';
import { whereOf } from './where';
import { givenShown } from '#core/entities/index';
import { useAgain, useLoad } from '@/kit/load';

/** `classId`: the class in which a teacher looks; `page`: it has the page for itself. */
const props = defineProps<{ id: string; classId?: string; page?: boolean }>();
const emit = defineEmits<{ close: []; open: [id: string] }>();
const session = useSession();
const work = useWork();
const reload = useAgain();
const sheet = useLoad(t('people.theRecord'), 'GET /api/people/:id', () => ({ id: props.id }));
const person = computed(() => sheet.data.value?.person);
const place = computed(() => sheet.data.value?.places.find(({ ends }) => ends === null));

/** One document with every row that names the person; secrets are not in it. */
async function whole(): Promise<void> {
  try {
    const record = await call('GET /api/people/:id/whole', { id: props.id });
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([JSON.stringify(record, null, 2)], { type: 'application/json' }));
    link.download = `all-about-${props.id}.json`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <component
    :is="page ? 'div' : 'section'"
    v-if="sheet.data.value && person"
    class="record"
    :class="page ? 'whole' : 'beside'"
    :aria-label="page ? undefined : t('people.record')"
    @keydown.esc="emit('close')"
  >
    <header v-if="!page" class="flex gap-8px">
      <div class="grow">
        <h2 class="title">
          <RouterLink :to="`/people/${id}`">{{ person.familyName }}, {{ givenShown(person) }}</RouterLink>
        </h2>
        <p class="quiet">{{ whereOf(sheet.data.value) }}</p>
      </div>
      <Button type="text" size="small" :aria-label="t('people.closeTheRecord')" @click="emit('close')">{{
        t('common.close')
      }}</Button>
    </header>
    <ul
      v-if="person.role === 'student'"
      class="chain flex flex-wrap gap-y-4px gap-x-12px text-13px c-rust"
      :aria-label="t('people.readiness')"
    >
      <li :class="{ on: place }"><i />{{ t('people.onTheRoster') }}</li>
      <li :class="{ on: sheet.data.value.account?.status === 'active' }"><i />{{ t('people.account') }}</li>
      <li :class="{ on: sheet.data.value.classes.some((c) => c.ends === null) }"><i />{{ t('people.class') }}</li>
      <li :class="{ on: sheet.data.value.lacksSeats.length === 0 }"><i />{{ t('people.seats') }}</li>
      <li :class="{ on: !sheet.data.value.lacksDevice }"><i />{{ t('people.device') }}</li>
      <li :class="{ on: sheet.data.value.card?.current }"><i />{{ t('people.card') }}</li>
      <li :class="{ on: sheet.data.value.signedIn }"><i />{{ t('people.firstSignIn2') }}</li>
    </ul>
    <RecordFields :person="person" />
    <RequestName
      v-if="!session.may('people.edit') && person.role === 'student'"
      :sheet="sheet.data.value"
      :class-id="classId"
    />
    <RecordAccount :sheet="sheet.data.value" :page="page" @changed="reload()" />
    <section>
      <h2>{{ t('people.classes') }}</h2>
      <ul>
        <li v-for="c in sheet.data.value.classes" :key="c.id" :class="{ quiet: c.ends }">
          <RouterLink v-if="!c.ends" :to="`/classes/${c.classId}`">{{ c.name }}</RouterLink><template v-else>{{
            c.name
          }}</template
          >&nbsp;<span class="quiet"
            >{{ c.role === 'teacher' ? `${t('people.teaches')} ` : ''
            }}{{
              c.ends ? t('people.until', { ends: dayWords(c.ends) }) : t('people.since', { begins: dayWords(c.begins) })
            }}</span
          >
        </li>
      </ul>
      <p v-if="sheet.data.value.classes.length === 0" class="rust">{{ t('people.inNoClass') }}</p>
    </section>
    <section v-if="sheet.data.value.seats.length + sheet.data.value.lacksSeats.length > 0">
      <h2>{{ t('people.seats2') }}</h2>
      <ul>
        <li v-for="s in sheet.data.value.lacksSeats" :key="s.productId" class="rust">
          {{ t('people.noSeat', { name: s.label }) }}
          <span v-if="s.why.length > 0" class="quiet">{{
            t(s.isFree ? 'people.entitledAndFree' : 'people.entitledAndTaken', { rules: s.why.join('; ') })
          }}</span>
        </li>
        <li v-for="s in sheet.data.value.seats" :key="s.id" :class="{ quiet: s.until <= session.me!.today }">
          {{ s.edition ? `${s.name}, ${s.edition}` : s.name }}
          <span class="quiet"
            >{{ t('people.until2', { until: dayWords(s.until) })
            }}{{
              !session.may('licenses.see') || s.until <= session.me!.today
                ? ''
                : s.why.length > 0
                  ? ` · ${t('people.entitledAs', { rules: s.why.join('; ') })}`
                  : ` · ${t('people.notEntitled')}`
            }}</span
          >
        </li>
      </ul>
    </section>
    <Part v-if="person.role === 'student' && session.may('usage.see')" fit><PersonUse :id="id" /></Part>
    <section v-if="sheet.data.value.devices.length > 0 || sheet.data.value.lacksDevice">
      <h2>{{ t('people.devices') }}</h2>
      <p v-if="sheet.data.value.lacksDevice" class="rust">{{ t('people.needsADevice') }}</p>
      <ul>
        <li v-for="d in sheet.data.value.devices" :key="d.id" :class="{ quiet: d.ends }">
          <span class="mono">{{ d.tag }}</span> {{ d.model }}
          <span :class="d.due && !d.ends && d.due < session.me!.today ? 'rust' : 'quiet'">{{
            d.ends
              ? t('people.until', { ends: dayWords(d.ends) })
              : d.due
                ? t('people.due', { due: dayWords(d.due) })
                : t('people.since', { begins: dayWords(d.begins) })
          }}</span>
        </li>
      </ul>
    </section>
    <section>
      <h2>{{ t('people.schools') }}</h2>
      <ul>
        <li v-for="p in sheet.data.value.places" :key="p.id">
          {{ p.school }}
          <span class="quiet">{{
            t('people.to', { begins: dayWords(p.begins), now: p.ends ? dayWords(p.ends) : t('people.now') })
          }}</span>
        </li>
      </ul>
    </section>
    <section v-if="sheet.data.value.groups.length > 0">
      <h2>{{ t('people.groups') }}</h2>
      <ul>
        <li v-for="g in sheet.data.value.groups" :key="g.id">
          <RouterLink :to="`/groups/${g.id}`">{{ g.name }}</RouterLink>
        </li>
      </ul>
    </section>
    <Contacts v-if="person.role === 'student'" :sheet="sheet.data.value" @open="emit('open', $event)" />
    <section v-if="sheet.data.value.history.length > 0">
      <h2>{{ t('people.history') }}</h2>
      <Button v-if="session.isCoordinator" size="small" @click="whole">
        {{ t('people.allDataAboutThisPerson') }}
      </Button>
      <ul>
        <li v-for="h in sheet.data.value.history" :key="h.ledgerId" class="was">
          <RouterLink :to="`/plans/${h.planId}`">{{ h.title }}</RouterLink>
          <span class="quiet"
            >{{ h.action === 'undo' ? `${t('people.undone')} ` : '' }}{{ dayOfWords(h.at)
            }}{{ h.by ? `, ${h.by}` : '' }}</span
          >
        </li>
      </ul>
    </section>
  </component>
</template>

<style scoped>
.record.beside {
  width: 320px;
}
.record.whole {
  columns: 340px;
  column-gap: 32px;
}
.record.whole > * {
  break-inside: avoid;
  margin-bottom: 16px;
}
.chain i {
  display: inline-block;
  width: 9px;
  height: 9px;
  border: 1.5px solid currentColor;
  margin-right: 4px;
}
.chain .on {
  color: var(--stem);
}
.chain .on i {
  background: currentColor;
}
section .was {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  font-size: 13px;
}
section .was a {
  min-height: 24px;
  display: inline-flex;
  align-items: center;
}
section li {
  padding: 1px 0;
}
</style>
