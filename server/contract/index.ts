/**
 * What the server answers, route by route: the one thing that the web application takes from here, and only as
 * types. `query` and `body` are checked with Zod at the border, see routes.
 */
import type { DoorApi } from './door';
import type { ProfileApi } from './profile';
import type { FindApi } from './find';
import type { PeopleApi } from './people';
import type { ClassesApi } from './classes';
import type { DistrictApi } from './district';
import type { JoiningApi } from './joining';
import type { IntakeApi } from './intake';
import type { PlansApi } from './plans';
import type { TodayApi } from './today';
import type { HandoutsApi } from './handouts';
import type { DevicesApi } from './devices';
import type { LicensesApi } from './licenses';
import type { MaterialsApi } from './materials';
import type { UseApi } from './use';
import type { YearApi } from './year';

export * from './door';
export * from './profile';
export * from './find';
export * from './people';
export * from './classes';
export * from './district';
export * from './joining';
export * from './intake';
export * from './plans';
export * from './today';
export * from './handouts';
export * from './devices';
export * from './licenses';
export * from './materials';
export * from './use';
export * from './year';
export * from './exports';

/** Method and path to what goes in and what comes out. */
export interface Api
  extends
    DoorApi,
    ProfileApi,
    FindApi,
    PeopleApi,
    ClassesApi,
    DistrictApi,
    JoiningApi,
    IntakeApi,
    PlansApi,
    TodayApi,
    HandoutsApi,
    LicensesApi,
    DevicesApi,
    MaterialsApi,
    UseApi,
    YearApi {}

export type RouteName = keyof Api;
export type Body<R extends RouteName> = Api[R] extends { body: infer B } ? B : undefined;
/** What an answer other than 2xx says. */
export interface Failure {
  error: string;
  /** The password is asked for once more before this is done. */
  confirm?: boolean;
  /** The plan that was made and that a guard holds. */
  planId?: string;
  /** The database does not answer, or the server is busy: a request that only reads may be sent again. */
  away?: boolean;
}
