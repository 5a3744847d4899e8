/** What a list shows stands in its address: a filtered list can be sent, and Back leads to it as it was. */
import { computed, type WritableComputedRef } from 'vue';
import { type LocationQueryRaw, useRoute, useRouter } from 'vue-router';

/** Names and values of the address; what is as it would be anyway is left out of it. */
export function useQuery() {
  const route = useRoute();
  const router = useRouter();
  /** Several that change at once go into the address together. */
  let pending: LocationQueryRaw | null = null;
  function put(name: string, value: string | undefined): void {
    if (pending === null) {
      pending = {};
      void Promise.resolve().then(() => {
        const query = { ...route.query, ...pending };
        pending = null;
        return router.replace({ query });
      });
    }
    pending[name] = value;
  }
  /** One of the values, or null where the address has another. */
  const choice = <V extends string>(name: string, values: readonly V[]): WritableComputedRef<V | null> =>
    computed({
      get: () => values.find((value) => value === route.query[name]) ?? null,
      set: (value) => put(name, value ?? undefined),
    });
  const flag = (name: string): WritableComputedRef<boolean> =>
    computed({ get: () => route.query[name] === '1', set: (is) => put(name, is ? '1' : undefined) });
  /** Any text; null if the address has none. */
  const text = (name: string): WritableComputedRef<string | null> =>
    computed({
      get: () => (typeof route.query[name] === 'string' && route.query[name] !== '' ? route.query[name] : null),
      set: (value) => put(name, value || undefined),
    });
  return { choice, flag, text };
}
