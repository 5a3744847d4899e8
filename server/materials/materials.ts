/** What products offer: one material at a time, or a publisher's list; and which of it a class may be set. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { may } from '#core/authority/index';
import { type MaterialKind, materialKinds } from '#core/entities/index';
import { creates } from '#core/register/steps';
import { parseGrade, readHeaded } from '#core/tabular/index';
import { Fault, notFound, orFault } from '../faults';
import type { Services, Viewer } from '../services';
import type { MaterialFields, MaterialRow } from '../contract';
import { classOf } from '../classes/make';
import { carry, productOf, stepOf } from '../licenses/edit';
import { productLabel } from '../licenses/state';
import type { Roll } from '../people/roll';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { joined } from '../db/joined';
import { classesSet } from './queries';

/** Products to which somebody in the class is entitled, or its teachers are. */
export async function productsOf(roll: Roll, classId: string): Promise<Set<string>> {
  const found = new Set<string>();
  for (const one of await roll.everyone())
    if (one.classes.includes(classId) || one.teaches.includes(classId)) for (const id of one.needs) found.add(id);
  return found;
}

export async function materials(
  { db, roll }: Pick<Services, 'db' | 'roll'>,
  viewer: Viewer,
  { classId, product, q }: { classId?: string; product?: string; q?: string },
): Promise<MaterialRow[]> {
  if (!may(viewer, 'classes.all') && !classId) throw new Fault('invalid', say('materials.chooseAClass'));
  const one = classId ? await classOf(db, viewer, classId) : null;
  const like = { [Op.like]: `%${(q ?? '').replace(/[\\%_]/g, '\\$&')}%` };
  const rows = await joined(db, 'material', {
    of: { productName: 'product.name', edition: 'product.edition' },
    where: {
      ...(product ? { productId: product } : {}),
      ...(q ? { [Op.or]: [{ title: like }, { subject: like }] } : {}),
    },
    order: ['product.name', 'product.edition', 'title'],
    limit: 5000,
  });
  const set = await classesSet(db);
  // What teachers keep for others is not for children, so nobody in it is entitled to anything.
  const entitled = one && one.kind !== 'template' ? await productsOf(roll, one.id) : null;
  return rows
    .filter(({ productId }) => entitled === null || entitled.has(productId))
    .map(({ productName, edition, ...row }) => ({
      ...row,
      set: set.get(row.id) ?? 0,
      product: productLabel({ name: productName, edition }),
    }));
}

export async function keepMaterial(
  services: Services,
  viewer: Viewer,
  id: string | null,
  fields: MaterialFields,
): Promise<{ planId: string; id: string }> {
  const { db } = services;
  const before = id === null ? null : await db.models.material.findOne({ where: { id }, raw: true });
  if (id !== null && !before) throw notFound(say('api.thisMaterial'));
  const product = await productOf(db, fields.productId);
  const same = await db.models.material.findOne({
    attributes: ['title'],
    where: { productId: fields.productId, address: fields.address, id: { [Op.ne]: id ?? '-' } },
    raw: true,
  });
  if (same)
    throw new Fault(
      'conflict',
      say('materials.addressOfAlreadyUsesThis', { title: same.title, product: productLabel(product) }),
    );
  const step = stepOf(
    'material',
    id,
    before,
    fields,
    before ? say('classes.editedByHand') : say('materials.of3', { product: productLabel(product) }),
  );
  return carry(services, viewer, step, {
    title: say('materials.material3', { title: fields.title }),
    label: fields.title,
    subject: id ?? step!.id,
    schoolId: null,
  });
}

const headings = {
  title: ['title', 'name'],
  kind: ['kind', 'type'],
  address: ['address', 'url', 'iri', 'link', 'activity'],
  low: ['grade', 'from grade', 'lowest grade'],
  high: ['to grade', 'highest grade'],
  subject: ['subject'],
  minutes: ['minutes', 'time', 'duration'],
  needs: ['needs', 'equipment'],
} as const;
const needed = ['title', 'kind', 'address'] as const;

/** A publisher's list. What is there already, by its address, stays as it is. */
export async function takeMaterials(
  { db }: Services,
  viewer: Viewer,
  productId: string,
  text: string,
): Promise<{ planId: string | null; taken: number; problems: { line: number; message: string }[] }> {
  const product = await productOf(db, productId);
  const { rows, cell: cellOf } = orFault(() => readHeaded(text, headings, needed));
  const there = new Set(
    (await db.models.material.findAll({ attributes: ['address'], where: { productId }, raw: true })).map(
      ({ address }) => address,
    ),
  );
  const problems: { line: number; message: string }[] = [];
  const fresh = rows.flatMap((row, i): MaterialFields[] => {
    const cell = (field: keyof typeof headings) => cellOf(row, field);
    const grade = (field: 'low' | 'high') => (cell(field) ? parseGrade(cell(field)) : null);
    const kind = cell('kind').toLowerCase();
    const address = cell('address');
    const minutes = cell('minutes') ? Number(cell('minutes')) : null;
    const wrong = !cell('title')
      ? say('materials.itHasNoTitle')
      : !(materialKinds as readonly string[]).includes(kind)
        ? say('materials.isNotOneOf', { kind, list: materialKinds.join(', ') })
        : !/^[\x21-\x7e]{1,300}$/.test(address) || !URL.canParse(address)
          ? say('materials.isNotAnAddressLike', { address })
          : minutes !== null && !(minutes > 0 && minutes <= 6000)
            ? say('materials.isNotANumberOf', { text: cell('minutes') })
            : (cell('low') && !grade('low')) || (cell('high') && !grade('high'))
              ? say('materials.isNotAGrade', { text: cell('low'), to: cell('high') })
              : there.has(address)
                ? say('materials.alreadyExists', { address })
                : null;
    if (wrong) {
      problems.push({ line: i + 2, message: wrong });
      return [];
    }
    there.add(address);
    const low = grade('low');
    return [
      {
        productId,
        title: cell('title').slice(0, 200),
        kind: kind as MaterialKind,
        lowGrade: low,
        highGrade: grade('high') ?? low,
        subject: cell('subject').slice(0, 80) || product.subject,
        minutes: minutes === null ? null : Math.round(minutes),
        needs: cell('needs').slice(0, 120) || null,
        address,
      },
    ];
  });
  if (fresh.length === 0) return { planId: null, taken: 0, problems: problems.slice(0, 200) };
  const label = productLabel(product);
  const { planId } = await applyNow(db, {
    kind: 'materials',
    title: say('materials.materialsOf', { count: fresh.length, label }),
    createdBy: viewer.personId,
    plan: {
      changes: fresh.map((fields) => {
        const id = mint();
        return {
          ...creates('material', id, { ...fields }, say('materials.of4', { label })),
          label: fields.title,
          subject: id,
        };
      }),
    },
  });
  return { planId, taken: fresh.length, problems: problems.slice(0, 200) };
}
