/** Finds people, classes, groups, devices, products and plans by what they are called: a few of each, of the viewer's alone. */
import { may } from '#core/authority/index';
import { fold } from '#core/names/index';
import { givenShown } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/index';
import { classNames } from './classes/list';
import { groups } from './classes/groups';
import type { Found } from './contract';
import { devicePage } from './devices/list';
import { peoplePage } from './people/list';
import { ledgerRows } from './plans/history';
import type { Services, Viewer } from './services';

/** How many of each kind. */
const people = 6;
const others = 4;

const line = (...parts: (string | null | undefined | false)[]): string => parts.filter(Boolean).join(' · ');

/** Whether each word begins a part of the name. */
function beginsIn(words: readonly string[], name: string): boolean {
  const within = ` ${fold(name)}`;
  return words.every((word) => within.includes(` ${word}`));
}

/** Shorter than two characters finds nothing. */
export async function find(
  services: Services,
  viewer: Viewer,
  q: string,
): Promise<{ found: Found[]; morePeople: boolean }> {
  const words = fold(q).split(/\s+/).filter(Boolean);
  if (q.trim().length < 2 || words.length === 0) return { found: [], morePeople: false };
  const { db, roll, licenses, config } = services;
  const nothing = Promise.resolve([]);
  const [persons, classes, gathered, devices, products, plans] = await Promise.all([
    peoplePage(roll, viewer, { q }, { sort: 'family', desc: false, limit: people }),
    classNames(db, viewer, { q }),
    may(viewer, 'groups') ? groups(services, viewer, {}) : nothing,
    may(viewer, 'devices')
      ? devicePage(db, viewer, { q }, { limit: others, today: config.today() }).then(({ rows }) => rows)
      : nothing,
    may(viewer, 'licenses.see') ? licenses.products() : nothing,
    may(viewer, 'ledger') ? ledgerRows(db, viewer, { q }) : nothing,
  ]);
  const planIds = new Set<string>();
  return {
    morePeople: persons.next !== null,
    found: [
      ...persons.rows.map((one): Found => ({
        kind: 'person',
        id: one.id,
        name: `${givenShown(one)} ${one.familyName}`,
        about: line(one.number, one.grade && gradeLabel(one.grade), one.classes, one.school),
      })),
      ...classes
        .slice(0, others)
        .map((one): Found => ({ kind: 'class', id: one.id, name: one.name, about: line(one.subject, one.school) })),
      ...gathered
        .filter(({ name }) => beginsIn(words, name))
        .slice(0, others)
        .map((one): Found => ({ kind: 'group', id: one.id, name: one.name, about: line(one.className, one.school) })),
      ...devices.map((one): Found => ({
        kind: 'device',
        id: one.id,
        name: one.tag,
        about: line(one.model, one.holder, one.school),
      })),
      ...products
        .filter(({ label }) => beginsIn(words, label))
        .slice(0, others)
        .map((one): Found => ({ kind: 'product', id: one.id, name: one.label, about: '' })),
      ...plans
        .filter(({ planId }) => !planIds.has(planId) && planIds.add(planId))
        .slice(0, others)
        .map((one): Found => ({ kind: 'plan', id: one.planId, name: one.title, about: one.at })),
    ],
  };
}
