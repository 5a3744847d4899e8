/** Who on the roll is in a group. */
import { fitsRule, type GroupRule } from '#core/classes/index';
import type { Group } from '#core/entities/index';
import type { Db } from '../db/connection';
import type { OnRoll } from './roll';

export const ruleOf = ({ rule }: Pick<Group, 'rule'>): GroupRule | null =>
  rule === null ? null : (JSON.parse(rule) as GroupRule);

/** Whether somebody on the roll is in the group, by hand or by its rule. */
export function memberTest(group: Group): (one: OnRoll) => boolean {
  const rule = ruleOf(group);
  if (rule === null) return ({ groups }) => groups.includes(group.id);
  return (one) => one.role === 'student' && one.status === 'active' && fitsRule(rule, one, group.schoolId);
}

export async function groupTest(db: Db, id: string): Promise<(one: OnRoll) => boolean> {
  const group = await db.models.group.findOne({ where: { id, ends: null }, raw: true });
  return group ? memberTest(group) : () => false;
}
