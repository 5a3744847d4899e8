/** To which students Today is narrowed: what the head line says. */
import { computed } from 'vue';
import { useSession } from '@/stores/session';

export function usePlace() {
  const session = useSession();
  return computed(() => ({
    school: session.where.school ?? undefined,
    grade: session.where.grade ?? undefined,
    classId: session.where.classId ?? undefined,
  }));
}
