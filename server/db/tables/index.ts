/** All tables that are no entity's own: what Sheaf keeps beside the register. */
import * as register from './register';
import * as plans from './plans';
import * as intake from './intake';
import * as accounts from './accounts';
import * as people from './people';
import * as cards from './cards';
import * as joining from './joining';
import * as sent from './directory';
import * as use from './use';
import * as devices from './devices';
import * as district from './district';
import * as jobs from './jobs';

export const tables = {
  ...register,
  ...plans,
  ...intake,
  ...accounts,
  ...people,
  ...cards,
  ...joining,
  ...sent,
  ...use,
  ...devices,
  ...district,
  ...jobs,
};
