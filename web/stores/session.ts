/** Who is signed in, and where they are looking: district, school, grade, class. Where scopes every place. */
import { clear } from 'idb-keyval';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { isEverywhere, may, type Right } from '#core/authority/roles';
import { type Preferences, usual } from '#core/preferences/index';
import type { Me } from '../../server/contract';
import { forgetSession } from '@/after';
import { call } from '@/api';
import { keepPlace } from '@/place';
import { forgetButLanguage } from '@/words';

interface Where {
  school: string | null;
  grade: string | null;
  classId: string | null;
  className: string | null;
}
const nowhere: Where = { school: null, grade: null, classId: null, className: null };

const ownerKey = 'sheaf-owner';
/** Takes away all that this browser holds of a person. */
async function forget(): Promise<void> {
  forgetButLanguage();
  forgetSession();
  await clear().catch(() => {});
}

export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null);
  const kept = sessionStorage.getItem('where');
  const where = ref<Where>(kept ? (JSON.parse(kept) as Where) : { ...nowhere });
  const find = ref('');
  watch(where, (value) => sessionStorage.setItem('where', JSON.stringify(value)), { deep: true });

  const preferences = computed(() => me.value?.preferences ?? usual);
  /** Shown at once, and kept on the server. */
  async function prefer(some: Partial<Preferences>): Promise<void> {
    if (!me.value) return;
    const { preferences: before } = me.value;
    me.value.preferences = { ...before, ...some, columns: { ...before.columns, ...some.columns } };
    await call('POST /api/me/preferences', { body: some });
  }

  /** By the table that the server asks as well: what nobody may is not offered. */
  const mayDo = (right: Right): boolean => me.value !== null && may(me.value, right);
  const isEverywhereTheirs = computed(() => me.value !== null && isEverywhere(me.value));
  const isStaff = computed(() => mayDo('profile'));
  const isCoordinator = computed(() => mayDo('classes.all'));
  const school = computed(() => me.value?.schools.find(({ id }) => id === where.value.school) ?? null);
  /** Where new people and things go unless another school is chosen: the one that is looked at, or the only one. */
  const usualSchool = computed(() => {
    const schools = me.value?.schools ?? [];
    return school.value?.id ?? (schools.length === 1 ? schools[0]!.id : '');
  });
  /** The part of a filter that where stands for. */
  const scope = computed(() => ({
    school: where.value.school ?? undefined,
    grade: where.value.grade ?? undefined,
    classId: where.value.classId ?? undefined,
  }));

  /** As it is now; as it was where nothing answers. */
  watch(me, (one) => one && keepPlace(one.zone, one.today), { flush: 'sync' });
  async function renew(): Promise<void> {
    me.value = await call('GET /api/me').catch(() => me.value);
  }
  async function load(): Promise<Me | null> {
    try {
      me.value = await call('GET /api/me');
    } catch {
      me.value = null;
    }
    // Somebody else was here before, whose session ended by itself.
    if (me.value && localStorage.getItem(ownerKey) !== me.value.personId) {
      await forget();
      localStorage.setItem(ownerKey, me.value.personId);
    }
    // Of a district that was started over, or of another person's schools.
    if (where.value.school && !school.value) where.value = { ...nowhere };
    return me.value;
  }
  /** Signs out, and takes away what this browser holds of the person; then at the sign-in, or the district's sign-out. */
  async function leave(): Promise<void> {
    const { next } = await call('POST /api/sign-out');
    await forget();
    // Loaded anew, so that nothing is left in memory either.
    location.assign(next ?? '/sign-in');
  }
  const go = (to: Partial<Where>): void => {
    where.value = { ...nowhere, ...to };
  };
  return {
    me,
    preferences,
    prefer,
    where,
    find,
    may: mayDo,
    isEverywhere: isEverywhereTheirs,
    isStaff,
    isCoordinator,
    school,
    usualSchool,
    scope,
    load,
    renew,
    leave,
    go,
  };
});
