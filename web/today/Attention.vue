<script setup lang="ts">
/** What needs attention, most urgent first, each line with where to do something about it. */
import { t } from '@/words';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { useLoad } from '@/kit/load';
import { useSession } from '@/stores/session';
import { dayWords } from '@/time';

const session = useSession();
const today = useLoad(t('today.today'), 'GET /api/today');
const products = useLoad(t('today.products'), 'GET /api/products', undefined, {
  enabled: () => session.may('licenses.see'),
});
const carts = useLoad(t('today.carts'), 'GET /api/carts', () => ({ query: {} }), {
  enabled: () => session.may('devices'),
});
const devices = useLoad(t('today.filters'), 'GET /api/devices/facets', () => ({ query: {} }), {
  enabled: () => session.may('devices'),
});
/** Seats are counted beside; the rest does not wait for them. */
const waits = computed(() => {
  const short = (products.data.value?.products ?? []).flatMap(({ id, label, short: s }) =>
    s
      ? [
          {
            id: `short ${id}`,
            text: t('today.shortFrom', { label, count: t('today.countSeats', { n: s.count }), from: dayWords(s.from) }),
            action: t('today.viewSeats'),
            to: `/licenses?product=${id}`,
            urgency: 75,
          },
        ]
      : [],
  );
  const twice = (carts.data.value?.troubles ?? [])
    .filter(({ kind }) => kind === 'twice')
    .map(({ cartId, text }) => ({
      id: `cart ${cartId}`,
      text,
      action: t('today.viewCarts'),
      to: '/devices/carts',
      urgency: 65,
    }));
  const late = devices.data.value?.where.find(({ value }) => value === 'late')?.count ?? 0;
  const overdue =
    late > 0
      ? [
          {
            id: 'late',
            text: t('today.countDevicesAreOverdue', { n: late }),
            action: t('today.viewDevices'),
            to: '/devices?where=late',
            urgency: 55,
          },
        ]
      : [];
  return [...(today.data.value?.waits ?? []), ...short, ...twice, ...overdue].sort((a, b) => b.urgency - a.urgency);
});
</script>

<template>
  <section class="[flex:1_1_300px] min-w-280px">
    <h2>{{ t('today.needsAttention') }}</h2>
    <ul>
      <li v-for="w in waits" :key="w.id + w.text" class="flex gap-8px items-baseline py-7px px-0 ruled-b">
        <span
          class="mark w-8px h-8px [border:1.5px_solid_var(--quiet)] flex-none"
          :class="{ urgent: w.urgency >= 80 }"
          aria-hidden="true"
        /><span class="grow">{{ w.text }}</span
        ><RouterLink :to="w.to">{{ w.action }}</RouterLink>
      </li>
      <li v-if="today.data.value && waits.length === 0" class="quiet flex gap-8px items-baseline py-7px px-0 ruled-b">
        {{ t('today.nothingNeedsYourAttention')
        }}<template v-if="session.may('imports')"
          >&nbsp;<RouterLink to="/imports">{{ t('today.importARoster') }}</RouterLink></template
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
a {
  white-space: nowrap;
}
.mark.urgent {
  border-color: var(--rust);
  background: var(--rust);
  transform: rotate(45deg);
}
</style>
