/** Help, place by place: what it is for, its most common jobs, its keys. Shown in the application and written to docs/guide.md. */
import type { MessageKey } from '../messages/index';

export interface Help {
  /** Where the addresses of the place begin; the longest that fits counts. */
  path: string;
  title: MessageKey;
  purpose: MessageKey;
  /** What is done here most, and how. */
  jobs: readonly (readonly [MessageKey, MessageKey])[];
  /** Beyond those that work everywhere. */
  keys: readonly (readonly [string, MessageKey])[];
}

const list: Help['keys'] = [
  ['↑ ↓ Home End PgUp PgDn', 'help.keyMove'],
  ['Enter', 'help.keyOpen'],
  ['Esc', 'help.keyBack'],
];
const gathering: Help['keys'] = [
  ['Space', 'help.keyGather'],
  ['Shift+Space', 'help.keyGatherTo'],
  ['Ctrl+A', 'help.keyGatherAll'],
];

/** What works in every place. */
export const everywhere: Help['keys'] = [
  ['/', 'help.keyFind'],
  ['Alt+1 … Alt+9', 'help.keyPlaces'],
  ['Ctrl+Enter', 'help.keyPrimary'],
  ['?', 'help.keyHelp'],
];

export const places: readonly Help[] = [
  {
    path: '/',
    title: 'frame.placeToday',
    purpose: 'help.todayPurpose',
    jobs: [
      ['help.todayAttention', 'help.todayAttentionHow'],
      ['help.todayReady', 'help.todayReadyHow'],
      ['help.todayTeacher', 'help.todayTeacherHow'],
    ],
    keys: [],
  },
  {
    path: '/imports',
    title: 'frame.placeImports',
    purpose: 'help.importsPurpose',
    jobs: [
      ['help.importsFile', 'help.importsFileHow'],
      ['help.importsFix', 'help.importsFixHow'],
      ['help.importsReview', 'help.importsReviewHow'],
    ],
    keys: [
      ['Alt+↓ Alt+↑', 'help.keyProblem'],
      ['Alt+Enter', 'help.keyFix'],
      ['Alt+Delete', 'help.keySkip'],
      ['Enter', 'help.keyEdit'],
      ['Shift+↑ ↓ ← →', 'help.keyRange'],
      ['Shift+Space Ctrl+Space', 'help.keyRowColumn'],
      ['Ctrl+C Ctrl+X Ctrl+V', 'help.keyClipboard'],
      ['Ctrl+D', 'help.keyFillDown'],
      ['Ctrl+Z Ctrl+Y', 'help.keyUndoRedo'],
      ['Ctrl+F', 'help.keyFindReplace'],
      ['S D L U', 'help.keyMatches'],
    ],
  },
  {
    path: '/people',
    title: 'frame.placePeople',
    purpose: 'help.peoplePurpose',
    jobs: [
      ['help.peopleGather', 'help.peopleGatherHow'],
      ['help.peopleNew', 'help.peopleNewHow'],
      ['help.peoplePassword', 'help.peoplePasswordHow'],
    ],
    keys: [...list, ...gathering],
  },
  {
    path: '/classes',
    title: 'frame.placeClasses',
    purpose: 'help.classesPurpose',
    jobs: [
      ['help.classesAdd', 'help.classesAddHow'],
      ['help.classesCode', 'help.classesCodeHow'],
      ['help.classesGroup', 'help.classesGroupHow'],
    ],
    keys: [...list, ['Delete', 'help.keyRemove']],
  },
  {
    path: '/licenses',
    title: 'frame.placeLicenses',
    purpose: 'help.licensesPurpose',
    jobs: [
      ['help.licensesShort', 'help.licensesShortHow'],
      ['help.licensesRenew', 'help.licensesRenewHow'],
      ['help.licensesRule', 'help.licensesRuleHow'],
    ],
    keys: list,
  },
  {
    path: '/devices',
    title: 'frame.placeDevices',
    purpose: 'help.devicesPurpose',
    jobs: [
      ['help.devicesScan', 'help.devicesScanHow'],
      ['help.devicesSwap', 'help.devicesSwapHow'],
      ['help.devicesCart', 'help.devicesCartHow'],
    ],
    keys: list,
  },
  {
    path: '/handouts',
    title: 'frame.placeHandouts',
    purpose: 'help.handoutsPurpose',
    jobs: [
      ['help.handoutsClass', 'help.handoutsClassHow'],
      ['help.handoutsOutdated', 'help.handoutsOutdatedHow'],
      ['help.handoutsLost', 'help.handoutsLostHow'],
    ],
    keys: list,
  },
  {
    path: '/year',
    title: 'frame.placeYear',
    purpose: 'help.yearPurpose',
    jobs: [
      ['help.yearRoll', 'help.yearRollHow'],
      ['help.yearSections', 'help.yearSectionsHow'],
      ['help.yearArchive', 'help.yearArchiveHow'],
    ],
    keys: list,
  },
  {
    path: '/ledger',
    title: 'frame.placeLedger',
    purpose: 'help.ledgerPurpose',
    jobs: [
      ['help.ledgerUndo', 'help.ledgerUndoHow'],
      ['help.ledgerFind', 'help.ledgerFindHow'],
      ['help.ledgerPast', 'help.ledgerPastHow'],
    ],
    keys: list,
  },
  {
    path: '/plans',
    title: 'help.plans',
    purpose: 'help.plansPurpose',
    jobs: [
      ['help.plansApply', 'help.plansApplyHow'],
      ['help.plansTakeOut', 'help.plansTakeOutHow'],
      ['help.plansHeld', 'help.plansHeldHow'],
    ],
    keys: [...list, ['Space', 'help.keyTakeOut']],
  },
  {
    path: '/settings',
    title: 'frame.settings',
    purpose: 'help.settingsPurpose',
    jobs: [
      ['help.settingsSchool', 'help.settingsSchoolHow'],
      ['help.settingsRegister', 'help.settingsRegisterHow'],
      ['help.settingsNames', 'help.settingsNamesHow'],
      ['help.settingsStaff', 'help.settingsStaffHow'],
    ],
    keys: [],
  },
];

/** The help of the place that an address belongs to. */
export function helpAt(path: string): Help {
  const fits = places.filter((one) => path === one.path || (one.path !== '/' && path.startsWith(one.path)));
  return fits.reduce((best, one) => (one.path.length > best.path.length ? one : best), places[0]!);
}

/** docs/guide.md. `say`: the text of a key. */
export function guide(say: (key: MessageKey) => string): string {
  const keys = (some: Help['keys']) => some.map(([key, what]) => `- \`${key}\`: ${say(what)}`).join('\n');
  const page = places.map(({ title, purpose, jobs, keys: own }) =>
    [
      `## ${say(title)}`,
      say(purpose),
      ...jobs.map(([job, how]) => `**${say(job)}.** ${say(how)}`),
      ...(own.length > 0 ? [keys(own)] : []),
    ].join('\n\n'),
  );
  return `${[`# ${say('help.guide')}`, say('help.guideAbout'), ...page, `## ${say('help.keysEverywhere')}`, keys(everywhere)].join('\n\n')}\n`;
}
