<script setup lang="ts">
/** One cart: the periods in which classes have it, and what is in its slots. */
import { Button, SelectOption } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import type { CartRow } from '../../server/contract';
import { call } from '@/api';
import ClassPicker from '@/classes/ClassPicker.vue';
import Choice from '@/kit/Choice.vue';
import Figures from '@/kit/Figures.vue';
import TextInput from '@/kit/TextInput.vue';
import { useSession } from '@/stores/session';
import { weekdayName } from '@/time';
import { locale, t } from '@/words';
import { slotsOf, stateOf, stateWords } from './slots';

const props = defineProps<{
  cart: CartRow;
  run: (make: () => Promise<{ planId: string }>, said: string) => Promise<unknown>;
}>();

const session = useSession();
const days = [1, 2, 3, 4, 5].map(weekdayName);
const periods = computed(() =>
  [...new Set(['1', '2', '3', '4', '5', '6', ...props.cart.bookings.map(({ period }) => period)])].sort((a, b) =>
    a.localeCompare(b, locale, { numeric: true }),
  ),
);
const at = (weekday: number, period: string) =>
  props.cart.bookings.filter((b) => b.weekday === weekday && b.period === period);
const end = (id: string) =>
  props.run(() => call('POST /api/bookings/:id/end', { id }), t('devices.thePeriodIsFreeAgain'));

const isBooking = ref(false);
const booking = reactive({ classId: null as string | null, weekday: 1, period: '1' });
async function book(): Promise<void> {
  const { classId, weekday, period } = booking;
  const { id: cartId, name } = props.cart;
  const begins = session.me!.today > session.me!.year.begins ? session.me!.today : session.me!.year.begins;
  const made = await props.run(
    () => call('POST /api/bookings', { body: { cartId, classId: classId!, weekday, period, begins } }),
    t('devices.isBooked', { name }),
  );
  if (made) isBooking.value = false;
}
</script>

<template>
  <section class="panel beside flex-none w-440px" :aria-label="t('devices.cart')">
    <header>
      <h2 class="title">{{ cart.name }}</h2>
      <p class="quiet">
        {{
          t('devices.slots2', {
            school: cart.school,
            room: cart.room ? ` ${t('devices.room2', { room: cart.room })}` : '',
            slots: cart.slots,
          })
        }}
      </p>
    </header>
    <section>
      <h2>{{ t('devices.periods') }}</h2>
      <Figures
        class="week w-full [table-layout:fixed]"
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
          <p v-for="b in at(d + 1, p)" :key="b.id" class="pr-12px">
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
      <form
        v-if="isBooking"
        class="row flex-wrap text-13px pt-8px"
        @submit.prevent="book"
        @keydown.esc.stop="isBooking = false"
      >
        <label>{{ t('devices.class') }} <ClassPicker v-model="booking.classId" :school="cart.schoolId" /></label>
        <label
          >{{ t('devices.on') }}
          <Choice v-model:value="booking.weekday">
            <SelectOption v-for="(d, i) in days" :key="d" :value="i + 1">{{ d }}</SelectOption>
          </Choice></label
        >
        <label
          >{{ t('devices.period') }} <TextInput v-model:value="booking.period" class="w-60px" required maxlength="20"
        /></label>
        <Button html-type="submit" type="primary" size="small" :disabled="!booking.classId">{{
          t('devices.book')
        }}</Button>
      </form>
      <Button v-else size="small" class="mt-8px" @click="isBooking = true">{{ t('devices.bookAPeriod') }}</Button>
    </section>
    <section>
      <h2>{{ t('devices.slots3') }}</h2>
      <ul class="places text-13px [columns:2]">
        <li v-for="{ slot, place } in slotsOf(cart)" :key="slot">
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
</template>

<style scoped>
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
</style>
