import type { Person } from '#core/entities/index';

/** A child of the demo, with what it needs to sign in. */
export interface DemoStudent extends Person {
  schoolId: string;
  grade: string;
  className: string;
  username: string;
  secret: string;
}
