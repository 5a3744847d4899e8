/** Products, licenses and rules, changed one at a time: each edit is a plan of its own that applies at once. */
import { inScope } from '#core/authority/index';
import type { Change } from '#core/plan/index';
import { type Columns, type Entity, type Product, type Step, type StepOf } from '#core/entities/index';
import { creates, ends, updates } from '#core/register/steps';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { LicenseFields, ProductFields, RuleFields } from '../contract';
import { must } from '../authority/check';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { savePlan } from '../plans/store';
import { mint } from '../plans/mint';
import { whom } from './desk';
import { productLabel } from './state';
import { Op } from 'sequelize';

export async function productOf(db: Db, id: string): Promise<Product> {
  const found = await db.models.product.findOne({ where: { id }, raw: true });
  if (!found) throw notFound('This product');
  return found;
}

/** The step that makes a row, or changes what is other than before; null: nothing is. */
export function stepOf<E extends Entity>(
  entity: E,
  id: string | null,
  before: Columns<E> | null,
  after: Columns<E>,
  reason: string,
): StepOf<E, 'create'> | StepOf<E, 'update'> | null {
  if (id === null || !before) return creates(entity, mint(), after, reason);
  const fields = (Object.keys(after) as (keyof Columns<E>)[]).filter(
    (field) => field !== 'id' && before[field] !== after[field],
  );
  if (fields.length === 0) return null;
  const only = (from: Columns<E>): Partial<Columns<E>> => {
    const some: Partial<Columns<E>> = {};
    for (const field of fields) some[field] = from[field];
    return some;
  };
  return updates(entity, id, only(before), only(after), reason);
}

/** Applies one step as a plan of its own. Throws Fault invalid where there is none. */
export async function carry(
  { db }: Pick<Services, 'db'>,
  viewer: Viewer,
  step: Step | null,
  about: { title: string; label: string; subject: string; schoolId: string | null },
): Promise<{ planId: string; id: string }> {
  if (!step) throw new Fault('invalid', 'Nothing is other than before.');
  const change: Change = { ...step, label: about.label, subject: about.subject };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: about.title,
    schoolId: about.schoolId,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { planId, id: step.id };
}

export async function keepProduct(
  services: Services,
  viewer: Viewer,
  id: string | null,
  fields: ProductFields,
): Promise<{ planId: string; id: string }> {
  const { db } = services;
  const before = id === null ? null : await productOf(db, id);
  must(viewer, 'products.keep');
  if (fields.supersedes !== null) {
    const older = await productOf(db, fields.supersedes);
    if (older.id === id || older.supersedes === id)
      throw new Fault('invalid', 'A product cannot take its own place. Choose the older edition.');
  }
  const label = productLabel(fields);
  const same = await db.models.product.findOne({
    where: { name: fields.name, edition: fields.edition, id: { [Op.ne]: id ?? '-' } },
  });
  if (same) throw new Fault('conflict', `${label} is there already.`);
  const step = stepOf('product', id, before, fields, before ? 'corrected by hand' : 'a new product');
  return carry(services, viewer, step, { title: `Product ${label}`, label, subject: id ?? step!.id, schoolId: null });
}

export async function keepLicense(
  services: Services,
  viewer: Viewer,
  id: string | null,
  fields: LicenseFields,
): Promise<{ planId: string; id: string }> {
  const { db } = services;
  const before = id === null ? null : await db.models.license.findOne({ where: { id }, raw: true });
  if (id !== null && !before) throw notFound('This license');
  const product = await productOf(db, fields.productId);
  for (const schoolId of [fields.schoolId, before?.schoolId ?? fields.schoolId])
    if (!inScope(viewer, schoolId))
      throw new Fault('not-allowed', 'This license is not your school’s. The district keeps it.');
  if (fields.ends <= fields.begins)
    throw new Fault('invalid', 'ends: A license ends after the day on which it begins.');
  const label = productLabel(product);
  const count = fields.seats === null ? 'site-wide' : `${fields.seats} seats`;
  const reason = `${count}, ${fields.begins} to ${fields.ends}`;
  return carry(services, viewer, stepOf('license', id, before, fields, reason), {
    title: `License of ${label}: ${count}`,
    label,
    subject: product.id,
    schoolId: fields.schoolId,
  });
}

export async function addRule(
  services: Services,
  viewer: Viewer,
  fields: RuleFields,
): Promise<{ planId: string; id: string }> {
  const { db } = services;
  const product = await productOf(db, fields.productId);
  const target =
    fields.classId === null
      ? null
      : await db.models.class.findOne({
          attributes: ['id', 'name', 'schoolId'],
          where: { id: fields.classId, ends: null },
          raw: true,
        });
  if (fields.classId !== null && !target) throw notFound('This class');
  if (!inScope(viewer, target?.schoolId ?? fields.schoolId))
    throw new Fault('not-allowed', 'A rule for more than your school is for the district to make.');
  const schools = await db.models.school.findAll({ raw: true });
  const names = new Map([...schools, ...(target ? [target] : [])].map((one) => [one.id, one.name]));
  const after = { ...fields, ends: null };
  const label = productLabel(product);
  return carry(services, viewer, creates('rule', mint(), { ...after }, `for ${whom(after, names)}`), {
    title: `${label} for ${whom(after, names)}`,
    label,
    subject: product.id,
    schoolId: fields.schoolId,
  });
}

export async function endRule(services: Services, viewer: Viewer, id: string): Promise<{ planId: string }> {
  const { db, config } = services;
  const rule = await db.models.rule.findOne({ where: { id, ends: null }, raw: true });
  if (!rule) throw notFound('This rule');
  if (!inScope(viewer, rule.schoolId)) throw new Fault('not-allowed', 'This rule is the district’s.');
  const label = productLabel(await productOf(db, rule.productId));
  return carry(services, viewer, ends('rule', id, config.today(), 'no longer entitled'), {
    title: `${label}: a rule ends`,
    label,
    subject: rule.productId,
    schoolId: rule.schoolId,
  });
}

/** The plan by which whoever is entitled to the older edition is entitled to this one instead. */
export async function takeOver({ db }: Services, viewer: Viewer, id: string): Promise<{ planId: string }> {
  const product = await productOf(db, id);
  if (product.supersedes === null) throw new Fault('invalid', 'This product takes no other one’s place.');
  const older = await productOf(db, product.supersedes);
  const rules = await db.models.rule.findAll({ where: { productId: older.id, ends: null }, raw: true });
  if (rules.length === 0) throw new Fault('invalid', `Nobody is entitled to ${productLabel(older)} any more.`);
  const label = productLabel(product);
  const changes = rules.map((rule): Change => ({
    ...updates('rule', rule.id, { productId: older.id }, { productId: id }, `instead of ${productLabel(older)}`),
    label,
    subject: id,
  }));
  const planId = await db.transaction((tx) =>
    savePlan(db, tx, {
      kind: 'rules',
      title: `${label} in the place of ${productLabel(older)}`,
      createdBy: viewer.personId,
      plan: { changes },
    }),
  );
  return { planId };
}
