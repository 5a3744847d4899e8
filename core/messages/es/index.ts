import type { Messages } from '../index';
import { charts } from './charts';
import { classes } from './classes';
import { common } from './common';
import { devices } from './devices';
import { district } from './district';
import { frame } from './frame';
import { handouts } from './handouts';
import { help } from './help';
import { intake } from './intake';
import { joining } from './joining';
import { kit } from './kit';
import { licenses } from './licenses';
import { materials } from './materials';
import { pairs } from './pairs';
import { people } from './people';
import { places } from './places';
import { plan } from './plan';
import { profile } from './profile';
import { sign } from './sign';
import { staff } from './staff';
import { stores } from './stores';
import { student } from './student';
import { today } from './today';
import { usage } from './use';
import { worksheet } from './worksheet';
import { fields } from './fields';
import { api } from './api';
import { accounts } from './accounts';
import { feeds } from './feeds';
import { jobs } from './jobs';
import { directory } from './directory';
import { retention } from './retention';
import { letters } from './letters';
import { year } from './year';

export const es: Messages = {
  charts,
  classes,
  common,
  devices,
  district,
  frame,
  handouts,
  help,
  intake,
  joining,
  kit,
  licenses,
  materials,
  pairs,
  people,
  places,
  plan,
  profile,
  sign,
  staff,
  stores,
  student,
  today,
  use: usage,
  worksheet,
  fields,
  api,
  accounts,
  feeds,
  jobs,
  directory,
  retention,
  letters,
  year,
};
