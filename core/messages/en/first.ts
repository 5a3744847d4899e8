/** What the pages before the frame say, and what the server says to them: it is in the first load. */
import { accounts } from './accounts';
import { api } from './api';
import { common } from './common';
import { frame } from './frame';
import { joining } from './joining';
import { kit } from './kit';
import { profile } from './profile';
import { sign } from './sign';
import { stores } from './stores';
import { student } from './student';

export const first = {
  accounts,
  api,
  common,
  frame,
  joining,
  kit,
  profile,
  sign,
  stores,
  student,
};
