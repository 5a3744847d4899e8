/** What leads from an empty district to the first printed card: steps in their order, each told as it is on record. */
import { say } from '#core/messages/say';
import { may } from '#core/authority/index';
import type { Today } from './contract';
import type { Viewer } from './services';
import type { Db } from './db/connection';

/** None once something was printed, and none for people who may not change the settings. */
export async function firstSteps(db: Db, viewer: Viewer): Promise<Today['steps']> {
  if (!may(viewer, 'settings.change') || (await db.models.prints.findOne({ attributes: ['id'], raw: true }))) return [];
  const [school, student, account, teacher] = await Promise.all([
    db.models.school.findOne({ attributes: ['id'], raw: true }),
    db.models.person.findOne({ attributes: ['id'], where: { role: 'student', status: 'active' }, raw: true }),
    db.models.account.findOne({ attributes: ['id'], where: { role: 'student', status: 'active' }, raw: true }),
    db.models.account.findOne({ attributes: ['id'], where: { role: 'teacher', status: 'active' }, raw: true }),
  ]);
  return [
    {
      id: 'roster',
      done: student !== null,
      text: say('today.stepRoster'),
      hint: school ? null : say('today.stepRosterHint'),
      to: [
        { to: '/settings/feeds?new=service', text: say('today.stepRegister') },
        { to: '/imports', text: say('today.stepFile') },
      ],
    },
    {
      id: 'accounts',
      done: account !== null,
      text: say('today.stepAccounts'),
      hint: null,
      to: [{ to: '/people?lacks=account', text: say('today.stepToStudents') }],
    },
    {
      id: 'cards',
      done: false,
      text: say('today.stepCards'),
      hint: null,
      to: [{ to: '/handouts', text: say('today.stepToHandouts') }],
    },
    {
      id: 'staff',
      done: teacher !== null,
      text: say('today.stepStaff'),
      hint: null,
      to: [{ to: '/people?new=staff', text: say('today.stepToStaff') }],
    },
  ];
}
