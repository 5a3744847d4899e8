/** One device for everyone in some grades: who gets which, from what is free at their school. */
import { say } from '#core/messages/say';
import { col, fn } from 'sequelize';
import { assign, type Assigned, canBeGiven, type Place, type Stock, yearsUntil } from '#core/devices/index';
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { creates, updates } from '#core/register/steps';
import { grades } from '#core/tabular/values';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { type NewPlan } from '../plans/store';
import { mint } from '../plans/mint';
import { devicesNow, holdersFor } from './queries';

export interface OneToOne {
  made: Assigned;
  kept: number;
  lacking: number;
  changes: Change[];
  /** Who stays without, by name. */
  without: string[];
  /** Of the schools where somebody stays without: what lies there and is not given, and what would do at other schools. */
  notGiven: { inCarts: number; unfit: number; elsewhere: number };
}

const rank = (grade: string): number => (grades as readonly string[]).indexOf(grade);

/**
 * School by school. `personIds`: only these, whatever their grade; else everyone in the district's grades. What is
 * in carts stays there, and what is not in order is given to nobody.
 */
export async function oneToOne(
  db: Db,
  config: Pick<Config, 'today'>,
  of: {
    school: string | null;
    personIds?: readonly string[];
    kind?: 'own' | 'loan';
    due?: string | null;
    schools?: readonly string[] | null;
  },
): Promise<OneToOne> {
  const today = config.today();
  const { settings } = (await district(db))!;
  const [people, devices, schools] = await Promise.all([
    holdersFor(db, settings.oneToOne, of),
    devicesNow(db, null),
    db.models.school.findAll({ raw: true }),
  ]);
  const result: OneToOne = {
    made: { device: new Int32Array(), moves: 0, unmet: 0, mixed: 0, shortYears: 0 },
    kept: 0,
    lacking: 0,
    changes: [],
    without: [],
    notGiven: { inCarts: 0, unfit: 0, elsewhere: 0 },
  };
  const short = new Set<string>();
  const given = new Set<string>();
  for (const school of schools) {
    const here = people.filter(({ schoolId }) => schoolId === school.id);
    if (here.length === 0 || (of.schools && !of.schools.includes(school.id))) continue;
    const stock = devices.filter(
      (device) => device.schoolId === school.id || here.some((p) => p.loanDeviceId === device.id),
    );
    const index = new Map(stock.map(({ id }, i) => [id, i]));
    const places = here.map(({ grade, group, loanDeviceId }): Place => ({
      group: group ?? '',
      // Until they have finished the school, this year included.
      years: grade === '' ? 4 : Math.max(1, rank(school.highGrade) - rank(grade) + 1),
      has: loanDeviceId === null ? -1 : (index.get(loanDeviceId) ?? -1),
    }));
    const made = assign(
      places,
      stock.map((device): Stock => ({
        model: device.model,
        years: canBeGiven(device, today) ? Math.max(1, yearsUntil(today, device.updatesEnd)) : 0,
        free: device.isOut === 0 && device.cartId === null && device.schoolId === school.id,
      })),
    );
    for (const key of ['moves', 'unmet', 'mixed', 'shortYears'] as const) result.made[key] += made[key];
    if (made.unmet > 0) short.add(school.id);
    for (const at of made.device) if (at >= 0) given.add(stock[at]!.id);
    here.forEach((one, i) => {
      if (places[i]!.has >= 0) {
        result.kept++;
        return;
      }
      result.lacking++;
      const device = stock[made.device[i]!];
      const label = personLabel(one);
      if (!device) {
        result.without.push(label);
        return;
      }
      const { kind = 'own', due = null } = of;
      const after = {
        deviceId: device.id,
        personId: one.id,
        kind,
        begins: today,
        due: kind === 'own' ? null : due,
        ends: null,
      };
      result.changes.push({
        ...creates('loan', mint(), after, `${device.tag}, ${device.model}`),
        label,
        subject: one.id,
      });
    });
  }
  for (const device of short.size > 0 ? devices : []) {
    if (given.has(device.id) || device.isOut !== 0 || device.condition === 'missing' || device.condition === 'retired')
      continue;
    const isFit = canBeGiven(device, today);
    if (!short.has(device.schoolId)) {
      // What other schools have is the district's to know.
      if (!of.schools && isFit && device.cartId === null) result.notGiven.elsewhere++;
    } else if (!isFit) result.notGiven.unfit++;
    else if (device.cartId !== null) result.notGiven.inCarts++;
  }
  return result;
}

export async function planOneToOne(
  db: Db,
  config: Pick<Config, 'today'>,
  school: string | null,
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'waiting' | 'schoolId'>> {
  const { changes, without, kept } = await oneToOne(db, config, { school });
  const count = changes.length;
  return {
    kind: 'devices',
    title: say('devices.devicesForStudentsKeepTheirs', { count, kept }),
    schoolId: school,
    plan: { changes },
    waiting: without.map((label) => ({ line: 0, message: say('devices.getsNoneTheSchoolHas', { label }) })),
  };
}

/** Devices that are free, in order and in no cart, into the free slots of their school's carts: one model in a cart, which is to last four years. */
export async function planCarts(
  db: Db,
  config: Pick<Config, 'today'>,
  school: string | null,
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'waiting' | 'schoolId'>> {
  const today = config.today();
  const [carts, devices] = await Promise.all([
    db.models.cart.findAll({
      where: { ends: null, ...(school ? { schoolId: school } : {}) },
      order: ['schoolId', fn('LENGTH', col('name')), 'name'],
      raw: true,
    }),
    devicesNow(db, school),
  ]);
  const changes: Change[] = [];
  for (const schoolId of new Set(carts.map((cart) => cart.schoolId))) {
    const stock = devices.filter((device) => device.schoolId === schoolId);
    const slots = carts
      .filter((cart) => cart.schoolId === schoolId)
      .flatMap((cart) => {
        const inside = new Map(
          stock.flatMap((device, i) => (device.cartId === cart.id ? [[device.slot, i] as const] : [])),
        );
        return Array.from({ length: cart.slots }, (_, i) => ({ cart, slot: i + 1, has: inside.get(i + 1) ?? -1 }));
      });
    const made = assign(
      slots.map(({ cart, has }): Place => ({ group: cart.id, years: 4, has })),
      stock.map((device): Stock => ({
        model: device.model,
        years: canBeGiven(device, today) ? Math.max(1, yearsUntil(today, device.updatesEnd)) : 0,
        free: device.isOut === 0 && device.cartId === null,
      })),
    );
    slots.forEach(({ cart, slot, has }, i) => {
      const device = stock[made.device[i]!];
      if (has >= 0 || !device) return;
      const before = { cartId: device.cartId, slot: device.slot };
      changes.push({
        ...updates(
          'device',
          device.id,
          before,
          { cartId: cart.id, slot },
          say('devices.intoSlot', { name: cart.name, slot }),
        ),
        label: device.tag,
        subject: device.id,
      });
    });
  }
  return {
    kind: 'devices',
    title: say('devices.putDevicesIntoCarts', { count: changes.length }),
    schoolId: school,
    plan: { changes },
    waiting: [],
  };
}
