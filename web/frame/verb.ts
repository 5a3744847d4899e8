/** What is ordered of the gathered, as it is being put together in a form. */
import type { Verb } from '#core/register/verbs';

export type VerbKind = 'enroll' | 'group' | 'move' | 'hold' | 'leave' | 'seats' | 'devices' | 'ready';

export interface VerbForm {
  classId: string | null;
  /** How the class is changed: in the place of the one that they have, besides it, or out of it. */
  way: 'instead' | 'besides' | 'out';
  schoolId: string | null;
  grade: string | null;
  hold: boolean;
  groupId: string | null;
  out: boolean;
  /** Who has the classes of a teacher who leaves. */
  heirId: string | null;
  /** They are back, instead of going. */
  back: boolean;
  productId: string | null;
  take: boolean;
  /** yyyy-mm-dd; '': until somebody takes the device back. */
  due: string;
}
export const emptyForm = (): VerbForm => ({
  classId: null,
  way: 'instead',
  schoolId: null,
  grade: null,
  hold: true,
  groupId: null,
  out: false,
  heirId: null,
  back: false,
  productId: null,
  take: false,
  due: '',
});

/** null: something is not chosen yet. */
export function orderOf(what: VerbKind, form: VerbForm): Verb | null {
  const { classId, schoolId, grade, groupId, productId, take } = form;
  switch (what) {
    case 'enroll':
      if (classId === null) return null;
      return form.way === 'out'
        ? { verb: 'unenroll', classId }
        : { verb: 'enroll', classId, instead: form.way === 'instead' };
    case 'move':
      return schoolId === null && grade === null && classId === null
        ? null
        : { verb: 'move', schoolId, grade, classId };
    case 'group':
      return groupId === null ? null : { verb: 'group', groupId, out: form.out };
    case 'hold':
      return { verb: form.hold ? 'hold' : 'release' };
    case 'seats':
      return productId === null ? null : { verb: 'seats', productId, take };
    case 'devices':
      return { verb: 'devices', take, due: take ? null : form.due || null };
    case 'ready':
      return { verb: 'ready' };
    case 'leave':
      return form.back ? { verb: 'return' } : { verb: 'leave', heirId: form.heirId };
  }
}
