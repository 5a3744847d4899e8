/** Which people a list shows and in which order: kept in the address, so that it can be passed on and come back to. */
import { computed, reactive } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { Lack, PeopleFilter, PeopleSort, SeatState, Standing } from '../../server/contract';
import { useLoad } from '@/kit/load';
import { useQuery } from '@/kit/query';
import { useSession } from '@/stores/session';
import { t } from '@/words';

const sorts: PeopleSort[] = ['family', 'given', 'number', 'grade', 'username'];

export function usePeopleFilter() {
  const session = useSession();
  const route = useRoute();
  const router = useRouter();
  const query = useQuery();
  const chosen = reactive({
    lacks: query.choice<Lack>('lacks', ['account', 'class', 'seats', 'device', 'card', 'signed-in']),
    role: query.choice('role', ['student', 'staff']),
    status: query.choice<Standing>('status', ['held', 'past', 'left']),
    /** Of this group alone. */
    group: query.text('group'),
  });
  const gathered = computed(() => route.query.gathered === '1');
  const q = query.text('q');
  /** New by this plan. */
  const planId = query.text('plan');
  /** Who has, lacks or need not have a seat of a product, as another place asked. */
  const seatOf = computed(() => {
    const { product, seat } = route.query as { product?: string; seat?: SeatState };
    return product && seat ? { product, seat } : null;
  });
  const products = useLoad(t('places.products'), 'GET /api/products', undefined, {
    enabled: () => seatOf.value !== null,
    alone: true,
  });
  const seatWords = computed(() => {
    if (!seatOf.value) return '';
    const label =
      products.data.value?.products.find(({ id }) => id === seatOf.value!.product)?.label ?? t('places.theProduct');
    return {
      holds: t('places.haveASeatOf', { label }),
      lacks: t('places.areEntitledToAndHave', { label }),
      spare: t('places.haveASeatOfAnd', { label }),
    }[seatOf.value.seat];
  });
  const filter = computed<PeopleFilter>(() => ({
    ...(gathered.value ? { gathered: true } : session.scope),
    q: q.value ?? undefined,
    group: chosen.group ?? undefined,
    plan: planId.value ?? undefined,
    lacks: chosen.lacks ?? undefined,
    role: chosen.role ?? undefined,
    status: chosen.status ?? undefined,
    ...seatOf.value,
  }));
  /** What narrows the list, each to be taken off. */
  const chips = computed(() =>
    [
      q.value && { label: t('places.whoMatch', { q: q.value }), off: () => (q.value = null) },
      seatWords.value && {
        label: seatWords.value,
        off: () => void router.replace({ query: { ...route.query, product: undefined, seat: undefined } }),
      },
      planId.value && { label: t('places.newByThePlan'), off: () => (planId.value = null) },
      gathered.value && { label: t('places.theSheaf'), off: () => void router.push('/people') },
    ].filter((chip) => !!chip),
  );

  const order = reactive({
    sort: query.choice<PeopleSort>('sort', sorts),
    then: query.choice<PeopleSort>('then', sorts),
    desc: query.flag('desc'),
  });
  /** `second`: within the column that it is sorted by already. */
  function sortBy(key: string, second: boolean): void {
    const first = order.sort ?? 'family';
    if (second && key !== first) {
      order.then = order.then === key ? null : (key as PeopleSort);
      return;
    }
    order.desc = first === key ? !order.desc : false;
    if (first !== key) order.then = null;
    order.sort = key as PeopleSort;
  }
  return { chosen, gathered, filter, chips, order, sortBy };
}
