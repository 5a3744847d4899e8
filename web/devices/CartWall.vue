<script setup lang="ts">
/** Carts slot by slot, and what does not go together, with a way out. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { Carts } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { useChange } from '@/kit/change';
import { useAgain, useLoad } from '@/kit/load';
import CartPanel from './CartPanel.vue';
import NewCart from './NewCart.vue';
import { slotsOf, stateOf } from './slots';

const session = useSession();
const work = useWork();
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
const run = useChange(useAgain());
const move = (trouble: Carts['troubles'][number], cartId: string) =>
  run(
    () => call('POST /api/bookings/:id/move', { id: trouble.bookingIds[0]!, body: { cartId } }),
    t('devices.isBookedInstead', { cartId: nameOf(cartId) }),
  );
const making = ref(false);
async function add(make: () => Promise<{ planId: string }>, said: string): Promise<void> {
  if (await run(make, said)) making.value = false;
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
</script>

<template>
  <div class="panes">
    <section class="wall overflow-auto py-12px px-16px gap-12px">
      <h1 class="sr">{{ t('devices.carts') }}</h1>
      <ul v-if="troubles.length > 0" class="troubles" :aria-label="t('devices.conflicts')">
        <li v-for="(trouble, i) in troubles" :key="i" class="row flex-wrap">
          <span class="w-8px h-8px flex-none bg-rust [transform:rotate(45deg)]" aria-hidden="true" /><span
            class="grow"
            >{{ trouble.text }}</span
          >
          <Button v-for="id in trouble.instead.slice(0, 3)" :key="id" size="small" @click="move(trouble, id)">{{
            t('devices.use', { id: nameOf(id) })
          }}</Button>
          <span v-if="trouble.instead.length === 0" class="quiet">{{ t('devices.noFreeCartIsLarge') }}</span>
        </li>
      </ul>
      <NewCart v-if="making" @add="add" @cancel="making = false" />
      <p v-else-if="session.isCoordinator" class="row">
        <span v-if="query.data.value && carts.length === 0" class="quiet grow">{{ t('devices.noCartYet') }}</span>
        <Button size="small" @click="making = true">{{ t('devices.newCart') }}</Button>
        <Button v-if="empty > 0" size="small" @click="fill">{{ t('devices.fillFreeSlots', { empty }) }}</Button>
      </p>
      <ul
        class="all grid [grid-template-columns:repeat(auto-fill,minmax(190px,1fr))] gap-8px"
        :aria-label="t('devices.carts')"
      >
        <li v-for="cart in carts" :key="cart.id">
          <Button
            size="small"
            class="cart"
            :aria-pressed="cart.id === chosenId"
            :class="{ chosen: cart.id === chosenId }"
            @click="chosenId = cart.id"
          >
            <span class="name text-13px flex gap-6px whitespace-nowrap"
              ><b class="overflow-hidden text-ellipsis">{{ cart.name }}</b
              ><span v-if="troubled.has(cart.id)" class="rust"> ⚑</span>
              <span class="quiet">{{
                t('devices.ofWork', { working: cart.working, places: cart.places.length })
              }}</span></span
            >
            <svg
              class="w-full max-w-180px"
              :viewBox="`0 0 154 ${17 * Math.ceil(slotsOf(cart).length / 14)}`"
              aria-hidden="true"
            >
              <g
                v-for="{ slot, place } in slotsOf(cart)"
                :key="slot"
                :transform="`translate(${((slot - 1) % 14) * 11} ${Math.floor((slot - 1) / 14) * 17})`"
              >
                <rect class="slot fill-none stroke-rule" :class="stateOf(place)" x="1" y="1" width="8" height="14" />
                <path v-if="stateOf(place) === 'broken'" d="M2 2l6 12M8 2l-6 12" class="stroke-rust" />
              </g>
            </svg>
          </Button>
        </li>
      </ul>
    </section>
    <CartPanel v-if="chosen" :key="chosen.id" :cart="chosen" :run="run" />
  </div>
</template>

<style scoped>
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
</style>
