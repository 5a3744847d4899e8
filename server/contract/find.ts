/** One field that finds everything the viewer may see. */
export type FoundKind = 'person' | 'class' | 'group' | 'device' | 'product' | 'plan';
export interface Found {
  kind: FoundKind;
  id: string;
  name: string;
  /** What tells it from others of that name: school, grade, holder; of a plan the moment. */
  about: string;
}
export interface FindApi {
  /** A few of each kind. `morePeople`: more people match than are listed. */
  'GET /api/find': { query: { q: string }; out: { found: Found[]; morePeople: boolean } };
}
