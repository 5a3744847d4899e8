/**
 * Guards hold a plan that would do more than anyone is likely to mean: they are rules over its changes, and a
 * held plan applies only after a person has released each guard with a reason. Guards never change a plan.
 */
import type { MessageKey } from '#core/messages/index';
import { say } from '#core/messages/say';
import type { Change, Plan } from './change';

export interface Held {
  /** Which rule, with what it is about: stable, so that a release can name it. */
  code: string;
  /** What is held, in words: "would leave Lantern Point: 31 of 93 students, 33%; 5% is the most". */
  message: string;
  count: number;
  /** Labels of everyone concerned, in order. */
  names: string[];
}

export type GuardRule = (plan: Plan) => Held[];

export const guard = (plan: Plan, rules: GuardRule[]): Held[] => rules.flatMap((rule) => rule(plan));

export interface ShareRule {
  code: string;
  /** The group that a change takes from (a school, a class), or null if the rule does not care for it. */
  groupOf: (change: Change) => string | null;
  /** Each group's name and its size before the plan. */
  groups: Map<string, { name: string; size: number }>;
  /** The most that may be taken, as a share of the group between 0 and 1. Reaching it is allowed. */
  most: number;
  /** Up to this many are never held, whatever the share. */
  free: number;
  /** What would happen, told the group's `name`, `count` of `size`, their `share` and `most` of it. */
  what: MessageKey;
}

/** Holds a plan in which more than a set share of a group is concerned. */
export const shareGuard =
  (rule: ShareRule): GuardRule =>
  (plan) => {
    const hit = new Map<string, Map<string, string>>();
    for (const change of plan.changes) {
      const group = rule.groupOf(change);
      if (group === null) continue;
      const people = hit.get(group) ?? new Map<string, string>();
      hit.set(group, people.set(change.subject, change.label));
    }
    const held: Held[] = [];
    for (const [id, people] of hit) {
      const group = rule.groups.get(id);
      if (!group || people.size <= rule.free || people.size <= group.size * rule.most) continue;
      held.push({
        code: `${rule.code}:${id}`,
        message: say(rule.what, {
          ...{ name: group.name, count: people.size, size: group.size },
          ...{ share: people.size / group.size, most: rule.most },
        }),
        count: people.size,
        names: [...people.values()].sort((a, b) => a.localeCompare(b, 'en')),
      });
    }
    return held;
  };
