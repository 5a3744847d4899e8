/** Which school a source means. */
import { fold } from './index';

interface Named {
  name: string;
  /** What rosters call it; null: nobody said. */
  code: string | null;
}
/** By its identifier first, then by its name. `find`: a cell that holds either; `findOrg`: a source that has both. */
export function schoolFinder<S extends Named>(schools: readonly S[]) {
  const byCode = new Map(schools.flatMap((school) => (school.code ? [[fold(school.code), school]] : [])));
  const byName = new Map(schools.map((school) => [fold(school.name), school]));
  return {
    find: (word: string): S | null => byCode.get(fold(word)) ?? byName.get(fold(word)) ?? null,
    findOrg: ({ name, identifier }: { name: string; identifier: string }): S | null =>
      (identifier ? byCode.get(fold(identifier)) : undefined) ?? byName.get(fold(name)) ?? null,
  };
}
