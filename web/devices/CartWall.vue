<script setup lang="ts">
/** Carts slot by slot, what does not go together with a way out, and the periods of the chosen one. */
import { locale, t } from '@/words';
import Figures from '@/kit/Figures.vue';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, reactive, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { CartRow, Carts } from '../../server/contract';
import { call } from '@/api';
import ClassPicker from '@/classes/ClassPicker.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { useAgain, useLoad } from '@/kit/load';
import { weekdayName } from '@/time';

const session = useSession();
const work = useWork();
const reload = useAgain();
const router = useRouter();
const query = useLoad(t('devices.carts2'), 'GET /api/carts', () => ({
  query: { school: session.where.school ?? undefined },
}));
const carts = computed(() => query.data.value?.carts ?? []);
const troubles = computed(() => query.data.value?.troubles ?? []);
const chosenId = ref<string | null>(null);
watch(
  carts,
  (all) => {
    if (all.some(({ id }) => id === chosenId.value)) return;
    chosenId.value = troubles.value[0]?.cartId ?? all[0]?.id ?? null;
  },
  { immediate: true },
);
const chosen = computed(() => carts.value.find(({ id }) => id === chosenId.value) ?? null);
const troubled = computed(() => new Set(troubles.value.map(({ cartId }) => cartId)));
const nameOf = (id: string) => carts.value.find((cart) => cart.id === id)?.name ?? '';
const days = [1, 2, 3, 4, 5].map(weekdayName);
const periods = computed(() =>
  [...new Set(['1', '2', '3', '4', '5', '6', ...(chosen.value?.bookings.map(({ period }) => period) ?? [])])].sort(
    (a, b) => a.localeCompare(b, locale, { numeric: true }),
  ),
);
const at = (weekday: number, period: string) =>
  chosen.value?.bookings.filter((b) => b.weekday === weekday && b.period === period) ?? [];
/** Every slot of the cart, what is in none at the end. */
function slots(cart: CartRow): { slot: number; place: CartRow['places'][number] | null }[] {
  const by = new Map(cart.places.map((place) => [place.slot, place]));
  const last = Math.max(cart.slots, ...cart.places.map(({ slot }) => slot));
  return Array.from({ length: last }, (_, i) => ({ slot: i + 1, place: by.get(i + 1) ?? null }));
}
const stateOf = (place: CartRow['places'][number] | null): string =>
  !place ? 'empty' : place.out ? 'out' : ['good', 'worn'].includes(place.condition) ? 'in' : 'broken';
const stateWords: Record<string, string> = {
  empty: t('devices.empty'),
  out: t('devices.withAHolder'),
  in: t('devices.inTheCart2'),
  broken: t('devices.brokenOrInRepair'),
};

async function run(what: () => Promise<{ planId: string }>, said: string): Promise<void> {
  try {
    const { planId } = await what();
    work.say(said, { label: t('common.undo'), run: () => work.undo(planId) });
  } catch (error) {
    work.wrong(error);
  }
  await reload();
}
const move = (trouble: Carts['troubles'][number], cartId: string) =>
  run(
    () => call('POST /api/bookings/:id/move', { id: trouble.bookingIds[0]!, body: { cartId } }),
    t('devices.isBookedInstead', { cartId: nameOf(cartId) }),
  );
const end = (id: string) => run(() => call('POST /api/bookings/:id/end', { id }), t('devices.thePeriodIsFreeAgain'));
const booking = reactive({ classId: null as string | null, weekday: 1, period: '1' });
const bookOpen = ref(false);
const making = ref(false);
const fresh = reactive({
  schoolId: session.usualSchool,
  name: '',
  slots: 24,
  room: '',
});
async function add(): Promise<void> {
  const body = { ...fresh, room: fresh.room.trim() || null };
  await run(() => call('POST /api/carts', { body }), t('devices.isAdded', { name: fresh.name }));
  making.value = false;
}
const empty = computed(() => carts.value.reduce((sum, cart) => sum + Math.max(0, cart.slots - cart.places.length), 0));
/** Devices that nobody has go into free slots, one model in a cart, as a plan. */
async function fill(): Promise<void> {
  try {
    const school = session.where.school ?? (session.isEverywhere ? null : (session.me?.schools[0]?.id ?? null));
    const { jobId } = await call('POST /api/carts/fill', { body: { school } });
    const { planId } = await work.follow(jobId, t('devices.planningCarts'));
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
async function book(): Promise<void> {
  const { classId, weekday, period } = booking;
  const begins = session.me!.today > session.me!.year.begins ? session.me!.today : session.me!.year.begins;
  await run(
    () =>
      call('POST /api/bookings', { body: { cartId: chosen.value!.id, classId: classId!, weekday, period, begins } }),
    t('devices.isBooked', { name: chosen.value!.name }),
  );
  bookOpen.value = false;
}
</script>

<template>
  <div class="panes">
    <section class="wall">
      <h1 class="sr">{{ t('devices.carts') }}</h1>
      <ul v-if="troubles.length > 0" class="troubles" :aria-label="t('devices.conflicts')">
        <li v-for="(trouble, i) in troubles" :key="i" class="row wrap">
          <span class="mark" aria-hidden="true" /><span class="grow">{{ trouble.text }}</span>
          <Button v-for="id in trouble.instead.slice(0, 3)" :key="id" size="small" @click="move(trouble, id)">{{
            t('devices.use', { id: nameOf(id) })
          }}</Button>
          <span v-if="trouble.instead.length === 0" class="quiet">{{ t('devices.noFreeCartIsLarge') }}</span>
        </li>
      </ul>
      <form v-if="making" class="book" @submit.prevent="add" @keydown.esc.stop="making = false">
        <label
          >{{ t('devices.school2') }}
          <Choice v-model:value="fresh.schoolId" :placeholder="t('devices.chooseASchool')">
            <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
          </Choice></label
        >
        <label>{{ t('devices.name') }} <TextInput v-model:value="fresh.name" required maxlength="60" /></label>
        <label
          >{{ t('devices.slots') }} <NumberInput v-model:value="fresh.slots" class="period" :min="1" :max="200"
        /></label>
        <label>{{ t('devices.room') }} <TextInput v-model:value="fresh.room" class="period" maxlength="40" /></label>
        <Button html-type="submit" type="primary" size="small">{{ t('devices.addCart') }}</Button>
      </form>
      <p v-else-if="session.isCoordinator" class="row">
        <span v-if="query.data.value && carts.length === 0" class="quiet grow">{{ t('devices.noCartYet') }}</span>
        <Button size="small" @click="making = true">{{ t('devices.newCart') }}</Button>
        <Button v-if="empty > 0" size="small" @click="fill">{{ t('devices.fillFreeSlots', { empty }) }}</Button>
      </p>
      <ul class="all" :aria-label="t('devices.carts')">
        <li v-for="cart in carts" :key="cart.id">
          <Button
            size="small"
            class="cart"
            :aria-pressed="cart.id === chosenId"
            :class="{ chosen: cart.id === chosenId }"
            @click="chosenId = cart.id"
          >
            <span class="name"
              ><b>{{ cart.name }}</b
              ><span v-if="troubled.has(cart.id)" class="rust"> ⚑</span>
              <span class="quiet">{{
                t('devices.ofWork', { working: cart.working, places: cart.places.length })
              }}</span></span
            >
            <svg class="slots" :viewBox="`0 0 154 ${17 * Math.ceil(slots(cart).length / 14)}`" aria-hidden="true">
              <g
                v-for="{ slot, place } in slots(cart)"
                :key="slot"
                :transform="`translate(${((slot - 1) % 14) * 11} ${Math.floor((slot - 1) / 14) * 17})`"
              >
                <rect class="slot" :class="stateOf(place)" x="1" y="1" width="8" height="14" />
                <path v-if="stateOf(place) === 'broken'" d="M2 2l6 12M8 2l-6 12" class="cross" />
              </g>
            </svg>
          </Button>
        </li>
      </ul>
    </section>
    <section v-if="chosen" class="one beside" :aria-label="t('devices.cart')">
      <header>
        <h2 class="title">{{ chosen.name }}</h2>
        <p class="quiet">
          {{
            t('devices.slots2', {
              school: chosen.school,
              room: chosen.room ? ` ${t('devices.room2', { room: chosen.room })}` : '',
              slots: chosen.slots,
            })
          }}
        </p>
      </header>
      <section>
        <h2>{{ t('devices.periods') }}</h2>
        <Figures
          class="week"
          :label="t('devices.periods')"
          :rows="periods"
          :row-key="(p) => p"
          :columns="[
            { key: 'period', title: t('devices.period'), untitled: true, heading: true },
            ...days.map((title, d) => ({
              key: `day-${d}`,
              title,
              cellClass: (p: string) => ({ twice: at(d + 1, p).length > 1 }),
            })),
          ]"
        >
          <template #period="{ row: p }">{{ p }}</template>
          <template v-for="(_, d) in days" :key="d" #[`day-${d}`]="{ row: p }">
            <p v-for="b in at(d + 1, p)" :key="b.id">
              {{ b.class }}
              <Button
                type="text"
                size="small"
                :aria-label="t('devices.end', { class: b.class, d: days[d]!, p })"
                @click="end(b.id)"
              >
                ×
              </Button>
            </p>
          </template>
        </Figures>
        <form v-if="bookOpen" class="book" @submit.prevent="book" @keydown.esc.stop="bookOpen = false">
          <label>{{ t('devices.class') }} <ClassPicker v-model="booking.classId" :school="chosen.schoolId" /></label>
          <label
            >{{ t('devices.on') }}
            <Choice v-model:value="booking.weekday">
              <SelectOption v-for="(d, i) in days" :key="d" :value="i + 1">{{ d }}</SelectOption>
            </Choice></label
          >
          <label
            >{{ t('devices.period') }} <TextInput v-model:value="booking.period" class="period" required maxlength="20"
          /></label>
          <Button html-type="submit" type="primary" size="small" :disabled="!booking.classId">{{
            t('devices.book')
          }}</Button>
        </form>
        <Button v-else size="small" @click="bookOpen = true">{{ t('devices.bookAPeriod') }}</Button>
      </section>
      <section>
        <h2>{{ t('devices.slots3') }}</h2>
        <ul class="places">
          <li v-for="{ slot, place } in slots(chosen)" :key="slot">
            <span class="quiet">{{ slot }}</span> <span class="mono">{{ place?.tag ?? '—' }}</span><span
              v-if="place && stateOf(place) !== 'in'"
              class="rust"
            >
              {{ stateWords[stateOf(place)] }}</span
            >
          </li>
        </ul>
      </section>
    </section>
  </div>
</template>

<style scoped>
.wall {
  overflow: auto;
  padding: 12px 16px;
  gap: 12px;
}
.wall > * {
  flex: none;
}
.troubles .grow {
  flex-basis: 240px;
}
.troubles li {
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.mark {
  width: 8px;
  height: 8px;
  flex: none;
  background: var(--rust);
  transform: rotate(45deg);
}
.all {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px;
}
.cart {
  display: grid;
  gap: 4px;
  width: 100%;
  height: auto;
  text-align: left;
  padding: 8px 10px;
}
.cart.chosen {
  border-color: var(--straw);
  box-shadow: inset 3px 0 0 var(--straw);
}
.name {
  font-size: 13px;
  display: flex;
  gap: 6px;
  white-space: nowrap;
}
.name b {
  overflow: hidden;
  text-overflow: ellipsis;
}
.slots {
  width: 100%;
  max-width: 180px;
}
.slot {
  fill: none;
  stroke: var(--rule);
}
.slot.in {
  fill: var(--stem);
  stroke: var(--stem);
}
.slot.out {
  stroke: var(--dusk);
  stroke-dasharray: 2 1;
}
.slot.broken {
  stroke: var(--rust);
}
.cross {
  stroke: var(--rust);
}
.one {
  flex: none;
  width: 440px;
}
.week {
  width: 100%;
  table-layout: fixed;
}
.week :deep(tr > :first-child) {
  width: 26px;
}
.week :deep(:is(th, td)) {
  padding: 1px 3px;
}
.week :deep(td) {
  border: 1px solid var(--rule);
  height: 30px;
  position: relative;
}
.week p {
  padding-right: 12px;
}
.week :deep(.twice) {
  background: var(--rust-wash);
}
.week :deep(.ant-btn) {
  position: absolute;
  right: 0;
  top: 0;
  min-width: 24px;
  justify-content: center;
}
.week p + p :deep(.ant-btn) {
  top: auto;
  bottom: 0;
}
.book {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  font-size: 13px;
  align-items: center;
  padding-top: 8px;
}
.book .period {
  width: 60px;
}
section > .ant-btn {
  margin-top: 8px;
}
.places {
  columns: 2;
  font-size: 13px;
}
.none {
  padding: 24px 0;
}
</style>
