/** Products, licenses and rules, changed one at a time: each edit is a plan of its own that applies at once. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import type { Change } from '#core/plan/index';
import { type Columns, type Entity, type Product, type Rule, type Step, type StepOf } from '#core/entities/index';
import { termFields, termsOf } from '#core/licenses/index';
import { creates, ends, updates } from '#core/register/steps';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { LicenseFields, ProductFields, RuleFields } from '../contract';
import { must } from '../authority/check';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { savePlan } from '../plans/store';
import { mint } from '../plans/mint';
import { namesFor, ownersOf, ruleWords } from './rule-words';
import { productLabel } from './state';
import { Op } from 'sequelize';

export async function productOf(db: Db, id: string): Promise<Product> {
  const found = await db.models.product.findOne({ where: { id }, raw: true });
  if (!found) throw notFound(say('api.thisProduct'));
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
  if (!step) throw new Fault('invalid', say('licenses.nothingChanged'));
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
      throw new Fault('invalid', say('licenses.aProductCantReplaceItself'));
  }
  const label = productLabel(fields);
  const same = await db.models.product.findOne({
    where: { name: fields.name, edition: fields.edition, id: { [Op.ne]: id ?? '-' } },
  });
  if (same) throw new Fault('conflict', say('licenses.alreadyExists', { label }));
  const step = stepOf(
    'product',
    id,
    before,
    fields,
    before ? say('classes.editedByHand') : say('licenses.newProduct2'),
  );
  return carry(services, viewer, step, {
    title: say('licenses.product2', { label }),
    label,
    subject: id ?? step!.id,
    schoolId: null,
  });
}

export async function keepLicense(
  services: Services,
  viewer: Viewer,
  id: string | null,
  fields: LicenseFields,
): Promise<{ planId: string; id: string }> {
  const { db } = services;
  const before = id === null ? null : await db.models.license.findOne({ where: { id }, raw: true });
  if (id !== null && !before) throw notFound(say('api.thisLicense'));
  const product = await productOf(db, fields.productId);
  for (const schoolId of [fields.schoolId, before?.schoolId ?? fields.schoolId])
    if (!inScope(viewer, schoolId)) throw new Fault('not-allowed', say('licenses.thisIsTheDistrictsLicense'));
  if (fields.ends <= fields.begins) throw new Fault('invalid', say('licenses.endsALicenseMustEnd'));
  const label = productLabel(product);
  const count = fields.seats === null ? 'site-wide' : say('licenses.seats2', { seats: fields.seats });
  const reason = say('licenses.to2', { count, begins: fields.begins, ends: fields.ends });
  return carry(services, viewer, stepOf('license', id, before, fields, reason), {
    title: say('licenses.licenseFor', { label, count }),
    label,
    subject: product.id,
    schoolId: fields.schoolId,
  });
}

/** Of terms that name classes which have ended, or schools that are not there, nothing is made. */
export async function keepRule(
  services: Services,
  viewer: Viewer,
  id: string | null,
  { productId, role, urgency, begins, ...terms }: RuleFields,
): Promise<{ planId: string; id: string }> {
  const { db } = services;
  const before = id === null ? null : await openRule(db, id);
  if (before && before.productId !== productId) throw notFound(say('api.thisRule'));
  const product = await productOf(db, productId);
  const named = await namesFor(db, [terms, ...(before ? [termsOf(before)] : [])]);
  for (const ids of [terms.schools, terms.except.schools])
    if (ids.some((one) => !named.names.has(one))) throw notFound(say('api.thisSchool'));
  const open = await db.models.class.count({ where: { id: [...terms.classes, '-'], ends: null } });
  if (open < new Set(terms.classes).size) throw notFound(say('api.thisClass'));
  const owners = [terms, ...(before ? [termsOf(before)] : [])].flatMap((of) => ownersOf(of, named.classes));
  if (owners.some((schoolId) => !inScope(viewer, schoolId)))
    throw new Fault('not-allowed', say('licenses.onlyTheDistrictCanMake'));
  const after = { productId, role, urgency, begins, ends: before?.ends ?? null, ...termFields(terms) };
  const label = productLabel(product);
  const people = ruleWords(after, named.names);
  return carry(services, viewer, stepOf('rule', id, before, after, say('materials.for2', { whom: people })), {
    title: say('licenses.for', { label, whom: people }),
    label,
    subject: product.id,
    schoolId: owners.length === 1 ? owners[0]! : null,
  });
}

async function openRule(db: Db, id: string): Promise<Rule> {
  const rule = await db.models.rule.findOne({ where: { id, ends: null }, raw: true });
  if (!rule) throw notFound(say('api.thisRule'));
  return rule;
}

export async function endRule(services: Services, viewer: Viewer, id: string): Promise<{ planId: string }> {
  const { db, config } = services;
  const rule = await openRule(db, id);
  const terms = termsOf(rule);
  const owners = ownersOf(terms, (await namesFor(db, [terms])).classes);
  if (owners.some((schoolId) => !inScope(viewer, schoolId)))
    throw new Fault('not-allowed', say('licenses.thisIsTheDistrictsRule'));
  const label = productLabel(await productOf(db, rule.productId));
  return carry(services, viewer, ends('rule', id, config.today(), say('licenses.noLongerEntitled')), {
    title: say('licenses.endARule', { label }),
    label,
    subject: rule.productId,
    schoolId: owners.length === 1 ? owners[0]! : null,
  });
}

/** The plan by which whoever is entitled to the older edition is entitled to this one instead. */
export async function takeOver({ db }: Services, viewer: Viewer, id: string): Promise<{ planId: string }> {
  const product = await productOf(db, id);
  if (product.supersedes === null) throw new Fault('invalid', say('licenses.thisProductDoesntReplaceAnother'));
  const older = await productOf(db, product.supersedes);
  const rules = await db.models.rule.findAll({ where: { productId: older.id, ends: null }, raw: true });
  if (rules.length === 0)
    throw new Fault('invalid', say('licenses.noOneIsEntitledTo', { product: productLabel(older) }));
  const label = productLabel(product);
  const changes = rules.map((rule): Change => ({
    ...updates(
      'rule',
      rule.id,
      { productId: older.id },
      { productId: id },
      say('licenses.insteadOf', { product: productLabel(older) }),
    ),
    label,
    subject: id,
  }));
  const planId = await db.transaction((tx) =>
    savePlan(db, tx, {
      kind: 'rules',
      title: say('licenses.insteadOf2', { label, product: productLabel(older) }),
      createdBy: viewer.personId,
      plan: { changes },
    }),
  );
  return { planId };
}
