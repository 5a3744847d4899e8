<script setup lang="ts">
/** People on record who may be one, across the schools: merged, or said to be two. */
import { t } from '@/words';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { type PersonField, personFields } from '#core/entities/index';
import { betterOf } from '#core/register/merge';
import { call } from '@/api';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { useSettling } from './keys';
import PairSheet from './PairSheet.vue';
import { useLoadOf } from '@/kit/load';

const router = useRouter();
const route = useRoute();
/** The two who are gathered, instead of all who may be one. */
const gathered = route.query.sheaf === '1';
const work = useWork();
const sheaf = useSheaf();
const pairs = useLoadOf(t('pairs.possibleDuplicates'), ['GET /api/pairs', gathered], async () =>
  gathered ? [await call('GET /api/sheaf/pair')] : call('GET /api/pairs'),
);
const keyOf = (p: { one: { id: string }; two: { id: string } }) => `${p.one.id}|${p.two.id}`;
const later = ref<string[]>([]);
const at = ref(0);
const busy = ref(false);
const settled = ref(0);
const last = ref<{ one: string; two: string; text: string } | null>(null);
const queue = computed(() => {
  const off = (key: string) => later.value.indexOf(key);
  return [...(pairs.data.value ?? [])].sort((a, b) => off(keyOf(a)) - off(keyOf(b)));
});
const pair = computed(() => queue.value[Math.min(at.value, queue.value.length - 1)]);

/** Whose value is kept, field by field: the rule's choice until a person makes another. */
const keeps = ref<Partial<Record<PersonField, 'keep' | 'gone'>>>({});
watch(
  pair,
  (now) => {
    keeps.value = {};
    if (now)
      for (const field of personFields) {
        const value = (p: object) => ((p as Record<string, string>)[field] ?? '') || null;
        keeps.value[field] = betterOf(field, value(now.one), value(now.two));
      }
  },
  { immediate: true },
);
const names = () => `${pair.value!.one.givenName} ${pair.value!.one.familyName}`;

async function merge(): Promise<void> {
  if (!pair.value || busy.value) return;
  busy.value = true;
  const text = names();
  try {
    const { planId, held } = await call('POST /api/pairs/merge', {
      body: { keep: pair.value.one.id, gone: pair.value.two.id, choices: keeps.value },
    });
    if (held) {
      await router.push(`/plans/${planId}`);
      work.say(t('pairs.aGuardHoldsTheMerge', { text }));
      return;
    }
    settled.value++;
    if (gathered) {
      await sheaf.load();
      await router.push('/people');
    } else await pairs.refetch();
    at.value = 0;
    work.say(t('pairs.mergedIntoOneRecord', { text }), {
      label: t('pairs.separateThemAgain'),
      run: () => part(planId),
    });
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
async function part(planId: string): Promise<void> {
  try {
    const { kept } = await call('POST /api/plans/:id/unmerge', { id: planId });
    settled.value--;
    await pairs.refetch();
    work.say(
      kept.length > 0 ? t('pairs.twoRecordsAgainLaterChanges', { kept: kept.length }) : t('pairs.twoRecordsAgain'),
    );
  } catch (error) {
    work.wrong(error);
  }
}
async function different(): Promise<void> {
  if (!pair.value || busy.value) return;
  busy.value = true;
  const [one, two, text] = [pair.value.one.id, pair.value.two.id, names()];
  try {
    await call('POST /api/pairs/decide', { body: { one, two, same: false } });
    last.value = { one, two, text };
    settled.value++;
    if (gathered) await router.push('/people');
    else await pairs.refetch();
    at.value = 0;
    work.say(t('pairs.twoPeopleYouWillNot', { text }), { label: t('pairs.return'), run: back });
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
async function back(): Promise<void> {
  if (!last.value) return;
  const { one, two, text } = last.value;
  last.value = null;
  await call('POST /api/pairs/decide', { body: { one, two, same: null } });
  settled.value--;
  await pairs.refetch();
  work.say(t('pairs.undone', { text }));
}
function putOff(): void {
  if (!pair.value) return;
  const key = keyOf(pair.value);
  later.value = [...later.value.filter((other) => other !== key), key];
  at.value = 0;
}
function move(by: 1 | -1, what: 'candidate' | 'pair'): void {
  if (what === 'pair') at.value = Math.max(0, Math.min(queue.value.length - 1, at.value + by));
}
useSettling({ same: merge, different, later: putOff, back, move });
</script>

<template>
  <PairSheet
    :title="gathered ? t('pairs.theTwoPeopleYouGathered') : t('pairs.possibleDuplicates2')"
    :count="queue.length"
    :settled="settled"
    :loading="pairs.isPending.value"
    :position="at"
    :why="pair?.never === 'twin' ? t('pairs.twinsHint') : t('pairs.keepHint')"
    :top="pair && { label: t('pairs.keep'), person: pair.one }"
    :below="pair ? [{ label: t('pairs.mergeIntoIt'), person: pair.two }] : []"
    :chosen="0"
    :evidence="pair?.evidence ?? []"
    :keeps="keeps"
    :same="t('pairs.mergeIntoOne')"
    :different="t('pairs.twoPeople')"
    :empty="t('pairs.noPossibleDuplicatesFound')"
    @keep="(field, whose) => (keeps[field as PersonField] = whose)"
    @same="merge"
    @different="different"
    @later="putOff"
    @back="back"
    @close="router.push(gathered ? '/people' : '/imports')"
  />
</template>
