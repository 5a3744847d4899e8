/** The handlers of all routes. What comes in is checked with Zod there; what they do lives in the rooms beside. */
import { classRoutes } from './class';
import { deviceRoutes } from './device';
import { directoryRoutes } from './directory';
import { districtRoutes } from './district';
import { doorRoutes } from './door';
import { feedRoutes } from './feed';
import { groupRoutes } from './group';
import { handoutRoutes } from './handout';
import { intakeRoutes } from './intake';
import { joinRoutes } from './join';
import { licenseRoutes } from './license';
import { materialRoutes } from './material';
import { peopleRoutes } from './people';
import { planRoutes } from './plan';
import { profileRoutes } from './profile';
import { staffRoutes } from './staff';
import { useRoutes } from './use';
import { yearRoutes } from './year';
import type { Routes } from './route';

export { takeIn } from './intake';
export type { Request, Route } from './route';
export const routes: Routes = {
  ...doorRoutes,
  ...profileRoutes,
  ...peopleRoutes,
  ...classRoutes,
  ...intakeRoutes,
  ...planRoutes,
  ...handoutRoutes,
  ...feedRoutes,
  ...joinRoutes,
  ...districtRoutes,
  ...staffRoutes,
  ...directoryRoutes,
  ...groupRoutes,
  ...licenseRoutes,
  ...deviceRoutes,
  ...materialRoutes,
  ...useRoutes,
  ...yearRoutes,
};
