/**
 * Skills and words that statements tell of, beside what was done. The standard (xAPI 1.0.3, part two, 4.1.11) leaves to
 * each product under which IRIs it does so, so extensions are known by the last part of their IRI:
 *   competency, competencies, skill, skills       which skills it is about, of the object, the context or the result:
 *                                                 a name, or {name, scaled | raw, min, max | success}, or several
 *   word, item, object                            of the object: what was asked for; result.success says whether known
 *   missed, missed-words, words-missed            of the result: what was not known, a name or several
 * Without extensions: an activity of the type "objective", as the object or among the context's activities, is a skill;
 * an interaction with result.success is a word, by its name.
 */
import { type Activity, type Extensions, objective, type Score, shareOf, type Statement } from './shape';
import { bandOf, mostLetters, type UseRecord } from './record';

const interaction = 'http://adlnet.gov/expapi/activities/cmi.interaction';
const kinds = {
  skill: new Set(['competency', 'competencies', 'skill', 'skills']),
  word: new Set(['word', 'item', 'object']),
  missed: new Set(['missed', 'missed-words', 'words-missed']),
};
/** So many of each are read of one statement. */
const most = 100;

const lastPart = (iri: string): string =>
  iri
    .replace(/[/#:]+$/, '')
    .split(/[/#:]/)
    .at(-1)!
    .toLowerCase()
    .replaceAll('_', '-');

/** What is under extensions of the kind, one by one. */
function under(kind: keyof typeof kinds, ...all: (Extensions | undefined)[]): unknown[] {
  return all
    .flatMap((extensions) => Object.entries(extensions ?? {}))
    .filter(([iri]) => kinds[kind].has(lastPart(iri)))
    .flatMap(([, value]) => value)
    .slice(0, most);
}

/** A text in whatever language comes first, as names of activities are given; '': none. */
const inWords = (value: unknown): string => {
  const text = typeof value === 'object' && value !== null ? Object.values(value)[0] : value;
  return typeof text === 'string' ? text.trim().replace(/\s+/g, ' ').slice(0, mostLetters) : '';
};
const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/** A name as it stands, or of an object its name, else the end of its id. */
function nameOf(value: unknown): string {
  if (!isObject(value)) return inWords(value);
  const id = typeof value.id === 'string' ? value.id : '';
  return inWords(value.name) || decoded(/[^/#]*$/.exec(id)![0]);
}
function decoded(part: string): string {
  try {
    return inWords(decodeURIComponent(part));
  } catch {
    return inWords(part);
  }
}

const number = (value: unknown): number | undefined =>
  typeof value === 'number' && Number.isFinite(value) ? value : undefined;
/** What an extension says itself of how well the skill is known, as a share; undefined: nothing. */
function ownShare(value: unknown): number | undefined {
  if (!isObject(value)) return undefined;
  const said = isObject(value.score) ? value.score : value;
  const score: Score = {
    ...{ scaled: number(said.scaled), raw: number(said.raw), min: number(said.min), max: number(said.max) },
  };
  return shareOf(score) ?? (typeof value.success === 'boolean' ? Number(value.success) : undefined);
}

const activityName = ({ id, definition }: Activity): string => inWords(definition?.name) || inWords(id);
const isObjective = ({ definition }: Activity): boolean => definition?.type === objective;

/** Skills with the level that is told: their own, else the statement's (`share`: of its points), else by its success. */
export function skillsIn({ object, result, context }: Statement, share: number | null): UseRecord['levels'] {
  const told = share ?? (result?.success === undefined ? null : Number(result.success));
  const found = new Map<string, number>();
  const tell = (skill: string, level: number | null) => {
    if (skill && level !== null) found.set(skill, level);
  };
  if (isObjective(object)) tell(activityName(object), told);
  for (const one of Object.values(context?.contextActivities ?? {}).flat())
    if (one && isObjective(one)) tell(activityName(one), told);
  for (const value of under('skill', object.definition?.extensions, context?.extensions, result?.extensions))
    tell(nameOf(value), ownShare(value) ?? told);
  return [...found].map(([skill, level]) => ({ skill, band: bandOf(level) }));
}

/** Words that were missed, and those that were known. */
export function wordsIn({ object: { id, definition }, result }: Statement): UseRecord['words'] {
  const found = new Map<string, boolean>();
  if (result?.success !== undefined) {
    const asked = under('word', definition?.extensions).map(nameOf);
    if (asked.length === 0 && definition?.type === interaction)
      asked.push(inWords(definition.name) || inWords(definition.description) || nameOf({ id }));
    for (const word of asked) if (word) found.set(word, result.success);
  }
  for (const value of under('missed', result?.extensions)) if (nameOf(value)) found.set(nameOf(value), false);
  return [...found].map(([word, known]) => ({ word, known }));
}
