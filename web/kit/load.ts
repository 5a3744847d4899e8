/**
 * Everything that pages load comes through here. The key of a query is its route and what the route is asked; failed
 * loads are tried again by one rule; and the part of the page that shows a load (see Part.vue) is told of it, so that
 * what is loading, failed or out of date never looks like an empty list.
 */
import {
  type InfiniteData,
  keepPreviousData,
  type QueryClientConfig,
  useInfiniteQuery,
  useQuery,
  useQueryClient,
} from '@tanstack/vue-query';
import {
  computed,
  inject,
  type InjectionKey,
  type MaybeRefOrGetter,
  onMounted,
  onScopeDispose,
  reactive,
  type Ref,
  toValue,
} from 'vue';
import type { Api, RouteName } from '../../server/contract';
import { call, CallError, type Options } from '@/api';

/** A load as the part of the page sees it that shows it. */
export interface Load {
  /** As in "Couldn’t load classes". */
  readonly what: string;
  /** Whether it is on its way with nothing to show meanwhile. */
  readonly isLoading: boolean;
  readonly hasData: boolean;
  readonly error: Error | null;
  /** When what is shown came, in milliseconds since 1970. */
  readonly loadedAt: number;
  again: () => Promise<unknown>;
}

export interface Part {
  /** Returns what takes it away again. */
  add: (load: Load) => () => void;
  /** Calls back as soon as the part shows its content: what is hidden cannot have the focus. */
  whenShown: (then: () => void) => void;
}
export const partKey: InjectionKey<Part> = Symbol('part');
/** When the component is there and the part of the page that it is in is shown. */
export function onShown(then: () => void): void {
  const part = inject(partKey, null);
  onMounted(() => (part ? part.whenShown(then) : then()));
}

/** A server that answers with an error or not at all is asked once more; what is refused or missing stays so. */
const mayHelp = (error: Error): boolean => !(error instanceof CallError) || error.status === 0 || error.status >= 500;
export const queryConfig: QueryClientConfig = {
  defaultOptions: {
    queries: {
      staleTime: 2_000,
      refetchOnWindowFocus: true,
      // Without a network too, so that the page can say so.
      networkMode: 'always',
      retry: (count, error) => count < 1 && mayHelp(error),
    },
  },
};

interface Settings<Out> {
  enabled?: MaybeRefOrGetter<boolean>;
  /** Whatever else makes it another question, such as the version of the sheaf. */
  also?: Ref<unknown>;
  /** False: what is shown of another id or filter is not kept while this one loads. */
  keep?: boolean;
  /** Asked again after so many milliseconds. */
  every?: number | ((data: Out | undefined) => number | false);
  /** Nothing is kept for the next visit to the page. */
  forget?: true;
  /** False: not asked again when the window comes to the front. */
  onFocus?: false;
  /** It says itself what is loading and what failed: a field that looks something up, a preview of what is typed. */
  alone?: boolean;
  retry?: false;
}
type Out<R extends RouteName> = Api[R]['out'];

interface Query {
  data: Ref<unknown>;
  isPending: Ref<boolean>;
  fetchStatus: Ref<string>;
  error: Ref<Error | null>;
  dataUpdatedAt: Ref<number>;
  refetch: (options: { cancelRefetch: boolean }) => Promise<unknown>;
}
/** Tells the part around the component of it, unless it is `alone`. */
function told(what: string, query: Query, alone = false): Load {
  const load: Load = reactive({
    what,
    isLoading: computed(() => query.isPending.value && query.fetchStatus.value !== 'idle'),
    hasData: computed(() => query.data.value !== undefined),
    error: query.error,
    loadedAt: query.dataUpdatedAt,
    again: () => query.refetch({ cancelRefetch: true }),
  });
  const part = alone ? null : inject(partKey, null);
  if (part) onScopeDispose(part.add(load));
  return load;
}

const underway = new Set<AbortController>();
/** Browsers hold few requests open at a time: those that hang would keep the next ones from being sent. */
export const giveUpWaiting = (): void => {
  for (const one of underway) one.abort();
};
async function ask<R extends RouteName>(route: R, options?: Options<R>): Promise<Out<R>> {
  const one = new AbortController();
  underway.add(one);
  try {
    const asked = { ...options, signal: one.signal } as Options<R>;
    return await (call as (route: R, options: Options<R>) => Promise<Out<R>>)(route, asked);
  } finally {
    underway.delete(one);
  }
}
const settingsOf = <Data>({ enabled, keep = true, every, retry, onFocus, forget }: Settings<Data>) => ({
  ...(enabled === undefined ? {} : { enabled: computed(() => toValue(enabled)) }),
  ...(keep ? { placeholderData: keepPreviousData } : {}),
  ...(every === undefined
    ? {}
    : {
        refetchInterval:
          typeof every === 'number' ? every : (query: { state: { data: unknown } }) => every(query.state.data as Data),
      }),
  ...(retry === undefined ? {} : { retry }),
  ...(forget ? { gcTime: 0 } : {}),
  ...(onFocus === undefined ? {} : { refetchOnWindowFocus: onFocus }),
});

/** `useLoad('classes', 'GET /api/classes', () => ({ query: filter.value }))` */
export function useLoad<R extends RouteName>(
  what: string,
  route: R,
  options?: MaybeRefOrGetter<Options<R>>,
  settings: Settings<Out<R>> = {},
) {
  const asked = computed(() => toValue(options));
  return useLoadOf<Out<R>>(what, [route, asked], () => ask(route, asked.value), settings);
}

/** What needs more than one route: `key` names the first of them and all that decides what is asked. */
export function useLoadOf<Data>(
  what: string,
  key: readonly [RouteName, ...unknown[]],
  load: () => Promise<Data> | Data,
  settings: Settings<Data> = {},
) {
  const query = useQuery<Data>({
    queryKey: [...key, settings.also ?? null],
    queryFn: async () => load(),
    ...settingsOf(settings),
  });
  return { ...query, load: told(what, query as unknown as Query, settings.alone) };
}

/** A list that comes page by page; `next` says after which row the following page begins, undefined at the end. */
export function usePages<R extends RouteName>(
  what: string,
  route: R,
  options: (after: string | undefined) => Options<R>,
  next: (page: Out<R>) => string | null | undefined,
  settings: Settings<InfiniteData<Out<R>>> = {},
) {
  const query = useInfiniteQuery<Out<R>, Error, InfiniteData<Out<R>>, unknown[], string>({
    queryKey: [route, computed(() => options(undefined)), settings.also ?? null],
    queryFn: ({ pageParam }) => ask(route, options(pageParam || undefined)),
    initialPageParam: '',
    getNextPageParam: next,
    ...settingsOf(settings),
  });
  return { ...query, load: told(what, query as unknown as Query, settings.alone) };
}

/** Loads again what those routes answered, or everything that is shown. */
export function useAgain(): (...routes: RouteName[]) => Promise<void> {
  const client = useQueryClient();
  return async (...routes) => {
    if (routes.length === 0) return client.invalidateQueries();
    await Promise.all(routes.map((route) => client.invalidateQueries({ queryKey: [route] })));
  };
}
