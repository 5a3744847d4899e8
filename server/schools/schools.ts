/** The district's own settings, its schools with their sign-in addresses, and what a username pattern would make of everyone. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { Clashes, patternError, usernameOf, type UsernameFacts } from '#core/accounts/index';
import { creates, updates } from '#core/register/steps';
import { grades } from '#core/tabular/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { Body, DistrictState, Door, PatternTried, SchoolForm } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district, keepSettings } from '../district';
import type { OnRoll, Roll } from '../people/roll';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';

export const ways = ['secret', 'pictures', 'card', 'sign-on'] as const;

export async function districtState({ db, config }: Services, viewer: Viewer): Promise<DistrictState> {
  const here = (await district(db))!;
  const [all, counts] = await Promise.all([
    db.models.school.findAll({ order: ['name'], raw: true }),
    db.models.affiliation.count({
      where: { ends: null },
      include: [{ association: 'person', where: { role: 'student' }, required: true }],
      group: ['schoolId'],
    }),
  ]);
  const students = new Map(counts.map(({ schoolId, count }) => [schoolId, count]));
  const schools = all.map((school) => ({ ...school, students: students.get(school.id) ?? 0 }));
  return {
    name: here.name,
    settings: {
      numberDigits: here.settings.numberDigits,
      usernamePattern: here.settings.usernamePattern,
      schoolPatterns: here.settings.schoolPatterns,
      bands: here.settings.bands,
      mostLeaving: here.settings.mostLeaving,
      oneToOne: here.settings.oneToOne,
      digest: here.settings.digest,
      deviceYears: here.settings.deviceYears,
      mostJoining: here.settings.mostJoining,
      secondFactor: here.settings.secondFactor,
      signOnDomains: here.settings.signOnDomains,
      consent: here.settings.consent,
    },
    schools: schools.filter(({ id }) => inScope(viewer, id)),
    url: config.url,
    mail: config.mail !== null,
    mailFrom: config.mail?.from ?? null,
    signOn: config.signOn?.issuer ?? null,
  };
}

/** Settings are the district's own and no part of the register, so they are recorded, not planned. */
export async function changeSettings(db: Db, viewer: Viewer, change: Body<'POST /api/district'>): Promise<void> {
  const before = (await district(db))!.settings;
  await keepSettings(db, change);
  const told = (Object.keys(change) as (keyof typeof change)[]).map(
    (key) => `${key}: ${JSON.stringify(before[key])} to ${JSON.stringify(change[key])}`,
  );
  await audit(db, { by: viewer.personId, action: 'settings', detail: told.join('; ').slice(0, 5000) });
}

const rank = (grade: string): number => (grades as readonly string[]).indexOf(grade);
const inOrder = (low: string, high: string): void => {
  if (rank(low) > rank(high)) throw new Fault('invalid', say('district.theLowestGradeMustNot'));
};

/** One plan for all of them. */
export async function newSchools(
  { db }: Services,
  viewer: Viewer,
  forms: readonly SchoolForm[],
): Promise<{ planId: string; ids: string[] }> {
  for (const { lowGrade, highGrade } of forms) inOrder(lowGrade, highGrade);
  const changes = forms.map((form) => {
    const id = mint();
    const after = { ...form, door: form.door || null, ways: null, cardText: null };
    return { ...creates('school', id, after, say('district.setUpByHand')), label: form.name, subject: id };
  });
  const ids = changes.map(({ id }) => id);
  const { planId } = await applyNow(db, {
    kind: 'school',
    title:
      forms.length === 1
        ? say('district.newSchool2', { name: forms[0]!.name })
        : say('district.newSchools', { n: forms.length }),
    schoolId: ids.length === 1 ? ids[0]! : null,
    createdBy: viewer.personId,
    plan: { changes },
  });
  return { planId, ids };
}

export async function editSchool(
  { db }: Services,
  viewer: Viewer,
  id: string,
  { field, before, after }: Body<'POST /api/schools/:id/edit'>,
): Promise<{ planId: string }> {
  const school = await db.models.school.findByPk(id);
  if (!school || !inScope(viewer, id)) throw notFound(say('api.thisSchool'));
  if (after === null && !['code', 'door', 'ways', 'cardText'].includes(field))
    throw new Fault('invalid', say('district.thisCantBeEmpty'));
  if (field === 'lowGrade') inOrder(after!, school.highGrade);
  if (field === 'highGrade') inOrder(school.lowGrade, after!);
  const change = {
    ...updates('school', id, { [field]: before }, { [field]: after }, say('district.setUpByHand')),
    label: school.name,
    subject: id,
  };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: say('people.edit', { name: school.name }),
    schoolId: id,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { planId };
}

/** What a school offers at its own address; without an address, what the district does. */
export async function door(db: Db, config: Config, at: string | undefined): Promise<Door> {
  const here = await district(db);
  const offered = (text: string | null) =>
    ways.filter(
      (way) => (text === null || text.split(',').includes(way)) && (way !== 'sign-on' || config.signOn !== null),
    );
  // The database keeps addresses as plain letters and does not compare them with others.
  const school =
    at && /^[\x21-\x7e]+$/.test(at) ? await db.models.school.findOne({ where: { door: at.toLowerCase() } }) : null;
  if (at && !school) throw new Fault('missing', say('district.thereIsNoSchoolAt'));
  return { district: here?.name ?? '', school: school?.name ?? null, ways: offered(school?.ways ?? null) };
}

/** Some of everyone, and of those whose names are odd, so that a pattern shows what it does at its worst. */
const examples = 12;
/** So many are looked at before others get an answer. */
const atOnce = 2000;

/** What a pattern makes of the students on record, without giving anything to anyone; middle names are not looked at. */
export async function tryPattern(
  roll: Roll,
  viewer: Viewer,
  pattern: string,
  schoolId: string | null,
): Promise<PatternTried> {
  const wrong = patternError(pattern);
  if (wrong) return { wrong, examples: [], clashes: 0, people: 0 };
  const people = (await roll.everyone()).filter(
    (one) =>
      one.role === 'student' &&
      one.status === 'active' &&
      (schoolId === null || one.schoolId === schoolId) &&
      inScope(viewer, one.schoolId),
  );
  const facts = ({ given, family, number }: OnRoll): UsernameFacts => ({
    givenName: given,
    middleName: '',
    familyName: family,
    number,
  });
  const clashes = new Clashes(pattern);
  for (let at = 0; at < people.length; at += atOnce) {
    for (const one of people.slice(at, at + atOnce)) clashes.add(facts(one));
    await new Promise((next) => setImmediate(next));
  }
  const odd = people.filter(({ given, family }) => /[^A-Za-z]/.test(given + family));
  const step = Math.max(1, Math.floor(people.length / (examples / 2)));
  const shown = [...people.filter((_, i) => i % step === 0).slice(0, examples / 2), ...odd.slice(0, examples / 2)];
  return {
    wrong: null,
    examples: shown.map((one) => ({
      name: `${one.given} ${one.family}`,
      username: usernameOf(pattern, facts(one)),
    })),
    clashes: clashes.count,
    people: people.length,
  };
}
