/** What all other pages say, and all else that the server says. */
import { charts } from './charts';
import { classes } from './classes';
import { devices } from './devices';
import { directory } from './directory';
import { district } from './district';
import { feeds } from './feeds';
import { fields } from './fields';
import { handouts } from './handouts';
import { help } from './help';
import { intake } from './intake';
import { jobs } from './jobs';
import { letters } from './letters';
import { licenses } from './licenses';
import { materials } from './materials';
import { pairs } from './pairs';
import { people } from './people';
import { places } from './places';
import { plan } from './plan';
import { retention } from './retention';
import { settings } from './settings';
import { staff } from './staff';
import { today } from './today';
import { usage } from './use';
import { worksheet } from './worksheet';
import { year } from './year';

export const rest = {
  charts,
  classes,
  devices,
  directory,
  district,
  feeds,
  fields,
  handouts,
  help,
  intake,
  jobs,
  letters,
  licenses,
  materials,
  pairs,
  people,
  places,
  plan,
  retention,
  settings,
  staff,
  today,
  use: usage,
  worksheet,
  year,
};
