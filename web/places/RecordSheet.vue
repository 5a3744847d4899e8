<script setup lang="ts">
/** Everything about one person, beside the list. Fields are edited in place; each edit is a plan of one change. */
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '@/api';
import Contacts from '@/people/Contacts.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { dayOfWords } from '@/time';
import { languages } from '#core/cards/texts';
import { entities, fieldLabel, givenShown, handFields } from '#core/entities/index';
import { pictures, picturesOf } from '#core/accounts/pictures';
import { gradeLabel } from '#core/tabular/values';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ id: string }>();
const emit = defineEmits<{ close: []; open: [id: string] }>();
const session = useSession();
const work = useWork();
const reload = useAgain();
const sheet = useLoad('the record', 'GET /api/people/:id', () => ({ id: props.id }));
const person = computed(() => sheet.data.value?.person);
const place = computed(() => sheet.data.value?.places.find(({ ends }) => ends === null));
const secret = ref<string | null>(null);
watch(
  () => props.id,
  () => (secret.value = why.value = null),
);
const drawn = computed(() => (secret.value === null ? null : picturesOf(secret.value)));
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();

const fields = handFields.map((field) => [field, fieldLabel('person', field)] as const);

async function edit(field: (typeof fields)[number][0], event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const before = person.value?.[field] ?? null;
  const after = input.value.trim() || null;
  if (after === before) return;
  try {
    const { planId } = await call('POST /api/people/:id/edit', { id: props.id, body: { field, before, after } });
    work.say(`${fields.find(([key]) => key === field)![1]} is now ${after ?? 'empty'}.`, {
      label: 'Undo',
      run: () => work.undo(planId),
    });
    await reload();
  } catch (error) {
    input.value = before ?? '';
    work.wrong(error);
  }
}
async function giveRole(role: 'teacher' | 'school' | 'district'): Promise<void> {
  try {
    const { planId } = await call('POST /api/staff/:id/role', { id: props.id, body: { role } });
    work.say(`The role is ${role} now.`, { label: 'Undo', run: () => work.undo(planId) });
  } catch (error) {
    work.wrong(error);
  }
  await reload();
}
async function invite(): Promise<void> {
  try {
    const { jobId } = await call('POST /api/staff/:id/invite', { id: props.id });
    if (jobId) work.say((await work.follow(jobId, 'Sending mail')).sentence ?? '');
    else work.say('Invitation created. No mail server is set up, so copy the link from Settings, Staff.');
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
async function resetPassword(): Promise<void> {
  try {
    await call('POST /api/staff/:id/reset', { id: props.id });
    work.say('The old password no longer works. A link to choose a new one is on its way to their e-mail address.');
  } catch (error) {
    work.wrong(error);
  }
}
/** Why the secret is to be shown, as it will stand in the trail; null: nobody asked. */
const why = ref<string | null>(null);
const reasons = ['forgot it', 'lost the card', 'new here today', 'a parent asks'];
async function reveal(): Promise<void> {
  const reason = why.value?.trim();
  if (!reason) return;
  try {
    secret.value = (await call('POST /api/people/:id/reveal', { id: props.id, body: { why: reason } })).secret;
    why.value = null;
  } catch (error) {
    work.wrong(error);
  }
}
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
  <aside v-if="sheet.data.value && person" class="record beside" aria-label="Record" @keydown.esc="emit('close')">
    <header>
      <div class="grow">
        <h1>{{ person.familyName }}, {{ givenShown(person) }}</h1>
        <p class="quiet">
          <span v-if="person.number" class="mono">{{ person.number }}</span>{{ person.number ? ' · ' : ''
          }}<template v-if="place?.grade">grade {{ gradeLabel(place.grade) }} · </template
          >{{ place?.school ?? (person.status === 'left' ? 'left' : 'at no school') }}
        </p>
      </div>
      <Button type="text" size="small" aria-label="Esc, close the record" @click="emit('close')">Esc</Button>
    </header>
    <ul v-if="person.role === 'student'" class="chain" aria-label="Readiness">
      <li :class="{ on: place }"><i />rostered</li>
      <li :class="{ on: sheet.data.value.account?.status === 'active' }"><i />account</li>
      <li :class="{ on: sheet.data.value.classes.some((c) => c.ends === null) }"><i />class</li>
      <li :class="{ on: sheet.data.value.lacksSeats.length === 0 }"><i />seats</li>
      <li :class="{ on: !sheet.data.value.lacksDevice }"><i />device</li>
      <li :class="{ on: sheet.data.value.card?.current }"><i />card</li>
      <li :class="{ on: sheet.data.value.signedIn }"><i />signed in</li>
    </ul>
    <dl>
      <template v-for="[field, label] in fields" :key="field">
        <dt>
          <label :for="`f-${field}`">{{ label }}</label>
        </dt>
        <dd>
          <input
            :id="`f-${field}`"
            :value="person[field] ?? ''"
            :readonly="!session.isCoordinator"
            :placeholder="entities.person.fields[field].kind === 'day' ? 'yyyy-mm-dd' : '—'"
            :maxlength="entities.person.fields[field].longest ?? undefined"
            :list="field === 'language' ? 'languages' : undefined"
            @change="edit(field, $event)"
            @keydown.enter="($event.target as HTMLInputElement).blur()"
          />
        </dd>
      </template>
    </dl>
    <datalist id="languages">
      <SelectOption v-for="(name, code) in languages" :key="code" :value="code">{{ name }}</SelectOption>
    </datalist>
    <section>
      <h2>Account</h2>
      <p v-if="sheet.data.value.account">
        <span class="mono">{{ sheet.data.value.account.username }}</span>
        <span class="quiet">{{ ` · ${sheet.data.value.account.status}` }}</span>
      </p>
      <p v-if="person.role === 'staff' && sheet.data.value.account" class="row">
        <label v-if="session.may('roles.district')" class="row"
          >role
          <Choice
            :value="sheet.data.value.account.role"
            @update:value="(role) => giveRole(role as 'teacher' | 'school' | 'district')"
          >
            <SelectOption value="teacher">teacher</SelectOption>
            <SelectOption value="school">coordinator of the school</SelectOption>
            <SelectOption value="district">coordinator of the district</SelectOption>
          </Choice></label
        >
        <template v-if="session.isCoordinator">
          <Button v-if="sheet.data.value.signedIn" size="small" @click="resetPassword">Reset password</Button>
          <Button v-else size="small" @click="invite">Invite</Button>
        </template>
      </p>
      <p v-if="!sheet.data.value.account" class="quiet">none</p>
      <div v-if="person.role === 'student' && sheet.data.value.account" class="row reveal">
        <template v-if="secret">
          <svg v-for="name in drawn ?? []" :key="name" class="drawn" viewBox="0 0 24 24" aria-hidden="true">
            <path :d="pictures[name]" />
          </svg>
          <span class="mono">{{ secret }}</span>
        </template>
        <form v-else-if="why !== null" class="row" @submit.prevent="reveal" @keydown.esc.stop="why = null">
          <label class="row"
            >why <TextInput :ref="focusIt" v-model:value.lazy="why" list="reveal-reasons" required maxlength="300"
          /></label>
          <datalist id="reveal-reasons"><SelectOption v-for="r in reasons" :key="r" :value="r" /></datalist>
          <Button html-type="submit" size="small">Show it</Button>
        </form>
        <Button v-else size="small" @click="why = 'forgot it'">Show the secret</Button
        ><span class="quiet small">is recorded</span>
      </div>
      <p v-if="sheet.data.value.card" class="quiet">
        card printed {{ dayOfWords(sheet.data.value.card.printedAt)
        }}<span v-if="!sheet.data.value.card.current" class="rust"> · no longer holds</span>
      </p>
    </section>
    <section>
      <h2>Classes</h2>
      <ul>
        <li v-for="c in sheet.data.value.classes" :key="c.id" :class="{ quiet: c.ends }">
          {{ c.name }}
          <span class="quiet"
            >{{ c.role === 'teacher' ? 'teaches · ' : '' }}{{ c.ends ? `until ${c.ends}` : `since ${c.begins}` }}</span
          >
        </li>
      </ul>
      <p v-if="sheet.data.value.classes.length === 0" class="rust">in no class</p>
    </section>
    <section v-if="sheet.data.value.seats.length + sheet.data.value.lacksSeats.length > 0">
      <h2>Seats</h2>
      <ul>
        <li v-for="name in sheet.data.value.lacksSeats" :key="name" class="rust">{{ name }}: no seat</li>
        <li v-for="s in sheet.data.value.seats" :key="s.id" :class="{ quiet: s.until <= session.me!.today }">
          {{ s.edition ? `${s.name}, ${s.edition}` : s.name }} <span class="quiet">until {{ s.until }}</span>
        </li>
      </ul>
    </section>
    <section v-if="sheet.data.value.devices.length > 0 || sheet.data.value.lacksDevice">
      <h2>Devices</h2>
      <p v-if="sheet.data.value.lacksDevice" class="rust">lacks a device of their own</p>
      <ul>
        <li v-for="d in sheet.data.value.devices" :key="d.id" :class="{ quiet: d.ends }">
          <span class="mono">{{ d.tag }}</span> {{ d.model }}
          <span :class="d.due && !d.ends && d.due < session.me!.today ? 'rust' : 'quiet'">{{
            d.ends ? `until ${d.ends}` : d.due ? `due ${d.due}` : `since ${d.begins}`
          }}</span>
        </li>
      </ul>
    </section>
    <section>
      <h2>Schools</h2>
      <ul>
        <li v-for="p in sheet.data.value.places" :key="p.id">
          {{ p.school }} <span class="quiet">{{ p.begins }} to {{ p.ends ?? 'now' }}</span>
        </li>
      </ul>
    </section>
    <section v-if="sheet.data.value.groups.length > 0">
      <h2>Groups</h2>
      <p>{{ sheet.data.value.groups.map((g) => g.name).join(' · ') }}</p>
    </section>
    <Contacts v-if="person.role === 'student'" :sheet="sheet.data.value" @open="emit('open', $event)" />
    <section v-if="sheet.data.value.history.length > 0">
      <h2>History</h2>
      <Button v-if="session.isCoordinator" size="small" @click="whole"> All that is kept, as a file </Button>
      <ul>
        <li v-for="h in sheet.data.value.history" :key="h.ledgerId" class="was">
          <RouterLink :to="`/plans/${h.planId}`">{{ h.title }}</RouterLink>
          <span class="quiet"
            >{{ h.action === 'undo' ? 'undone ' : '' }}{{ dayOfWords(h.at) }}{{ h.by ? `, ${h.by}` : '' }}</span
          >
        </li>
      </ul>
    </section>
  </aside>
</template>

<style scoped>
.record {
  width: 320px;
}
header {
  display: flex;
  gap: 8px;
}
header h1 {
  overflow-wrap: anywhere;
}
.chain {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  font-size: 13px;
  color: var(--rust);
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
.reveal {
  flex-wrap: wrap;
}
.reveal .ant-input {
  width: 150px;
}
.drawn {
  width: 26px;
  height: 26px;
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.small {
  font-size: 12px;
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
