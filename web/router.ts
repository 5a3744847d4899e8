/** The pages and who comes to see them. Places in the order of their keys, Alt+1 onward. */
import { createRouter, createWebHistory } from 'vue-router';
import type { MessageKey } from '#core/messages/index';
import { wish, wished } from './after';
import { call } from './api';
import { forgetLists, rememberLists } from './frame/last';
import { useSession } from './stores/session';
import { restOfWords, speak } from './words';

export interface Place {
  name: MessageKey;
  path: string;
  coordinatorsOnly: boolean;
}
/** A place that does not exist yet is not shown; the keys of the others stay as they are learned. */
export const places: (Place & { key: number })[] = [
  { name: 'frame.placeToday', path: '/', key: 1, coordinatorsOnly: false },
  { name: 'frame.placeImports', path: '/imports', key: 2, coordinatorsOnly: true },
  { name: 'frame.placePeople', path: '/people', key: 3, coordinatorsOnly: false },
  { name: 'frame.placeClasses', path: '/classes', key: 4, coordinatorsOnly: false },
  { name: 'frame.placeLicenses', path: '/licenses', key: 5, coordinatorsOnly: true },
  { name: 'frame.placeDevices', path: '/devices', key: 6, coordinatorsOnly: true },
  { name: 'frame.placeHandouts', path: '/handouts', key: 7, coordinatorsOnly: false },
  { name: 'frame.placeYear', path: '/year', key: 8, coordinatorsOnly: true },
  { name: 'frame.placeLedger', path: '/ledger', key: 9, coordinatorsOnly: true },
];

const coordinators = { coordinators: true };
/** Rooms of the settings that share the district's own. */
const shared = { coordinators: true, settings: true };
/** Before anybody is signed in; `first`: it says what the first load has, and nothing else. */
const open = { open: true, first: true };
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/sign-in', component: () => import('./sign/SignIn.vue'), meta: open },
    { path: '/d/:school', component: () => import('./sign/SignIn.vue'), meta: open },
    { path: '/i', component: () => import('./sign/Invited.vue'), meta: open },
    { path: '/password', component: () => import('./sign/Password.vue'), meta: open },
    { path: '/wall/:door', component: () => import('./sign/Wall.vue'), meta: { open: true } },
    { path: '/first-run', component: () => import('./sign/FirstRun.vue'), meta: open },
    // Cards printed earlier have their code in the path.
    { path: '/c/:code?', component: () => import('./sign/CardSignIn.vue'), meta: open },
    // A page with all parts of the kit, for development.
    ...(import.meta.env.DEV ? [{ path: '/kit', component: () => import('./kit/Kit.vue'), meta: { open: true } }] : []),
    { path: '/join', component: () => import('./student/Join.vue'), meta: open },
    { path: '/j/:code', component: () => import('./student/Join.vue'), meta: open },
    { path: '/board/:id', component: () => import('./joining/Board.vue') },
    { path: '/mine', component: () => import('./student/Mine.vue'), meta: { student: true, first: true } },
    // To one assignment: a child opens it, a teacher sees how far they are.
    { path: '/w/:work', component: () => import('./student/Mine.vue'), meta: { student: true, first: true } },
    { path: '/board/work/:id', component: () => import('./materials/WorkPoster.vue') },
    {
      path: '/',
      component: () => import('./frame/Frame.vue'),
      children: [
        { path: '', component: () => import('./places/Today.vue') },
        { path: 'imports', meta: coordinators, component: () => import('./places/Intake.vue') },
        { path: 'imports/:id', meta: coordinators, component: () => import('./intake/IntakeSheet.vue') },
        { path: 'imports/:id/pairs', meta: coordinators, component: () => import('./pairs/IntakePairs.vue') },
        {
          path: 'devices',
          meta: coordinators,
          component: () => import('./places/Devices.vue'),
          children: [
            { path: '', component: () => import('./devices/DeviceList.vue') },
            { path: 'carts', component: () => import('./devices/CartWall.vue') },
            { path: 'scan', component: () => import('./devices/ScanLoop.vue') },
            { path: 'stock', component: () => import('./devices/StockView.vue') },
          ],
        },
        {
          path: 'year',
          meta: coordinators,
          component: () => import('./places/Year.vue'),
          children: [
            { path: '', component: () => import('./year/RollOver.vue') },
            { path: 'sections', component: () => import('./year/Sections.vue') },
            { path: 'sections/:key', component: () => import('./year/SectionSheet.vue') },
            { path: 'archive', component: () => import('./year/Archive.vue') },
            { path: 'retention', component: () => import('./year/RetentionView.vue') },
          ],
        },
        {
          path: 'licenses',
          meta: coordinators,
          component: () => import('./places/Licenses.vue'),
          children: [
            { path: '', component: () => import('./licenses/Products.vue') },
            { path: 'materials', component: () => import('./materials/Materials.vue') },
          ],
        },
        { path: 'year/archive/:id', meta: coordinators, component: () => import('./year/ArchivedClass.vue') },
        { path: 'profile', component: () => import('./profile/Profile.vue') },
        {
          path: 'settings',
          meta: coordinators,
          component: () => import('./places/Settings.vue'),
          children: [
            { path: '', redirect: '/settings/year' },
            { path: 'year', component: () => import('./settings/SchoolYear.vue') },
            { path: 'schools', meta: shared, component: () => import('./settings/Schools.vue') },
            { path: 'staff', meta: shared, component: () => import('./settings/Staffing.vue') },
            { path: 'usernames', meta: shared, component: () => import('./settings/Usernames.vue') },
            { path: 'passwords', meta: shared, component: () => import('./settings/Secrets.vue') },
            { path: 'sign-on', meta: shared, component: () => import('./settings/SignOnRules.vue') },
            { path: 'security', meta: shared, component: () => import('./settings/SecurityRules.vue') },
            { path: 'feeds', component: () => import('./settings/FeedsRoom.vue') },
            { path: 'directory', component: () => import('./settings/Directory.vue') },
            { path: 'products', component: () => import('./settings/ProductKeys.vue') },
            { path: 'mail', meta: shared, component: () => import('./settings/MailRoom.vue') },
            { path: 'letters', meta: shared, component: () => import('./settings/LettersHome.vue') },
            { path: 'devices', meta: shared, component: () => import('./settings/DeviceRules.vue') },
            { path: 'retention', component: () => import('./settings/RetentionMonths.vue') },
          ],
        },
        { path: 'requests', component: () => import('./joining/Requests.vue') },
        { path: 'pairs', meta: coordinators, component: () => import('./pairs/RecordPairs.vue') },
        { path: 'people', component: () => import('./places/People.vue') },
        { path: 'people/:id', component: () => import('./people/PersonPage.vue') },
        {
          path: 'classes',
          component: () => import('./places/Classes.vue'),
          children: [
            { path: '', component: () => import('./classes/ClassList.vue') },
            { path: 'groups', component: () => import('./classes/GroupList.vue') },
            { path: 'work', component: () => import('./materials/WorkView.vue') },
            { path: 'use', component: () => import('./use/UseView.vue') },
          ],
        },
        { path: 'classes/:id/notes', component: () => import('./classes/PlacementNotes.vue') },
        { path: 'classes/:id/progress', component: () => import('./materials/ProgressPage.vue') },
        { path: 'classes/:id', component: () => import('./classes/ClassPage.vue') },
        { path: 'groups/:id', component: () => import('./classes/GroupPage.vue') },
        { path: 'handouts', component: () => import('./places/Handouts.vue') },
        {
          path: 'ledger',
          meta: coordinators,
          component: () => import('./places/Ledger.vue'),
          children: [
            { path: '', component: () => import('./ledger/Applied.vue') },
            { path: 'log', component: () => import('./ledger/SecurityLog.vue') },
            { path: 'past', component: () => import('./ledger/PastDate.vue') },
          ],
        },
        { path: 'plans/:id', component: () => import('./plan/PlanSheet.vue') },
        // Addresses of before.
        { path: 'intake/:rest(.*)*', redirect: ({ path }) => path.replace('/intake', '/imports') },
        { path: 'district', redirect: '/settings' },
        { path: ':rest(.*)*', component: () => import('./kit/State.vue'), props: { kind: 'missing' } },
      ],
    },
  ],
});

rememberLists(router);
router.beforeEach(async (to) => {
  const opened = async () => {
    if (!to.meta.first) await restOfWords();
    return true;
  };
  if (to.meta.open) return opened();
  const session = useSession();
  const me = session.me ?? (await session.load());
  if (!me) {
    wish(to.fullPath, true);
    return (await call('GET /api/setup')).needed ? '/first-run' : '/sign-in';
  }
  if (speak(me.preferences.language, to.fullPath)) return false;
  const after = to.path === '/' ? wished() : null;
  if (after !== null) return after;
  if (session.may('own.page')) return to.meta.student ? true : '/mine';
  if (me.mustAddFactor && to.path !== '/profile') return '/profile';
  if (to.params.work) return { path: '/classes/work', query: { work: String(to.params.work) } };
  return to.meta.student ? '/' : opened();
});

// What comes after the first page is fetched while somebody reads it.
router.afterEach(() => void setTimeout(() => void restOfWords().catch(() => undefined), 2000));

window.addEventListener('signed-out', () => {
  useSession().me = null;
  // An answer that comes late finds the sign-in shown already.
  const { fullPath, meta } = router.currentRoute.value;
  if (!meta.open) wish(fullPath, false);
  forgetLists();
  void router.push('/sign-in');
});
