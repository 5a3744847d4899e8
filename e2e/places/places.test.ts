/** Each place with much, with nothing and with very long names: no console errors, and axe finds nothing (WCAG 2.2 A and AA). */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { picturesOf } from '#core/accounts/index';
import { unsealText } from '#server/auth/seal';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser, Key } from '../browser';
import { setupCode } from '#server/setup';
import { stage } from '../stage';

const at = stage('places', {
  before: async (world) => {
    const long = 'Wilhelmina-Constantia Maria van der Hoogenboom-Featherstonehaugh';
    await world.db.run(
      "UPDATE people SET givenName = :long, familyName = 'Ó Maoilchiaráin-Þorvaldsdóttir-Przybyszewska-Wolfeschlegelstein' WHERE id IN (SELECT personId FROM accounts WHERE username = :u)",
      { long, u: world.signIns.find(({ who }) => who.startsWith('student'))!.username },
    );
  },
});

const settle = () => new Promise((next) => setTimeout(next, 250));

describe('with the demo scenario', () => {
  it('every place of a coordinator is in order by day and by night', async () => {
    await at.browser.signIn(at.world.signIns.find(({ who }) => who.startsWith('district'))!.username, demoPassword);
    const district = await at.world.as('district');
    const { id } = (
      await district.post<{ id: string }>(
        '/api/intakes?name=gull-sound-students.csv',
        readFileSync('demo/files/gull-sound-students.csv'),
      )
    ).body;
    const draft = {
      hints: {},
      repairs: {},
      leftOut: [],
      schoolId: (await at.world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'GUL'"))!.id,
      complete: true,
    };
    await district.post(`/api/intakes/${id}/draft`, draft);
    const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId;
    const rows = (await district.get<{ rows: { id: string }[] }>('/api/people?limit=30')).body.rows;
    await district.post('/api/sheaf/gather', { ids: rows.map((row) => row.id) });
    const { id: classId } = (await at.world.db.one<{ id: string }>(
      "SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = 'LAN' WHERE c.name = '3A' AND c.ends IS NULL",
    ))!;
    const places: [string, string][] = [
      ['/', 'Student readiness'],
      ['/imports', 'gull-sound-students.csv'],
      [`/imports/${id}`, 'a guard will hold it'],
      [`/plans/${planId}`, 'Release with reason'],
      ['/people', 'Gather all'],
      ['/people?gathered=1', 'The sheaf'],
      ['/classes', 'classes'],
      ['/licenses', '23 seats short'],
      ['/licenses/materials', 'Nine nets'],
      ['/classes/work', 'A letter in a bottle'],
      ['/classes/use', 'rush through'],
      [`/classes/${classId}/progress`, 'A letter in a bottle'],
      ['/devices', 'Updates until'],
      ['/devices/carts', 'is booked by'],
      ['/devices/scan', '0 waiting to be booked'],
      ['/devices/stock', 'need one'],
      ['/handouts?sheaf=1', 'Print for the'],
      ['/year', 'Moving on'],
      ['/year/sections', 'Same classmates'],
      ['/year/archive', 'No classes have ended yet'],
      ['/year/retention', 'Due today'],
      ['/ledger', 'Opening register'],
      ['/requests', 'Milo Vantongeren'],
      ['/settings', 'Days off'],
      ['/settings/schools', 'Sign-in options'],
      ['/settings/staff', 'Create code'],
      ['/settings/usernames', 'Use this pattern'],
      ['/settings/sign-on', 'SHEAF_SIGN_ON_URL'],
      ['/settings/security', 'Second factor'],
      ['/settings/directory', 'Not set up'],
      ['/settings/mail', 'SHEAF_MAIL_URL'],
      ['/settings/devices', 'Replace after'],
      ['/settings/passwords', 'Student passwords'],
      ['/settings/feeds', 'sources that send files again'],
      ['/settings/products', 'Last report'],
      ['/settings/letters', 'Text to sign'],
      ['/settings/retention', 'Keep for (months)'],
    ];
    const found: [string, string][] = [];
    for (const [path, text] of places) {
      await at.browser.size(1280, 800);
      await at.browser.go(path);
      await at.browser.sees(text);
      // The night falls on the page as it is.
      for (const [name, width, dark] of [
        ['', 1280, false],
        [' by night', 1280, true],
        [' on a phone', 390, false],
        [' on a phone by night', 390, true],
      ] as const) {
        if (name) await at.browser.size(width, 800, dark);
        await settle();
        for (const violation of await at.browser.violations(dark ? 'colors' : 'all'))
          found.push([path + name, violation]);
        for (const outside of await at.browser.outside()) found.push([path + name, `not reached: ${outside}`]);
      }
    }
    expect(found).toEqual([]);
    await at.browser.size(1280, 800);
    expect(await at.browser.errors()).toEqual([]);
  });

  it('a teacher sees only places and people of their own', async () => {
    await at.browser.driver.manage().deleteAllCookies();
    await at.browser.driver.get('about:blank');
    await at.browser.signIn(at.world.signIns.find(({ who }) => who.startsWith('teacher'))!.username, demoPassword);
    await at.browser.sees('Your classes');
    expect(await (await at.browser.find('nav.places')).getText()).not.toMatch(/Imports|Ledger/);
    await at.browser.go('/people');
    await at.browser.sees('Gather all 2');
    expect(await at.browser.violations()).toEqual([]);
  });

  it('a child’s page fits a phone, also with a very long name', async () => {
    await at.browser.driver.manage().deleteAllCookies();
    await at.browser.size(390, 780);
    for (const [path, text] of [
      ['/sign-in', 'Sign in'],
      ['/d/lantern', 'Lantern Point'],
      ['/d/nowhere', 'There is no school at this address'],
      ['/join', 'Join a class'],
      ['/wall/lantern', 'or scan your card'],
      ['/i#0123456789ABCDEFGHJKMNPQRS', 'no longer works'],
    ] as const) {
      await at.browser.go(path);
      await at.browser.sees(text);
      expect([path, await at.browser.violations()]).toEqual([path, []]);
    }
    // The youngest tap their secret.
    const youngest = await at.world.db.one<{ username: string; personId: string; secretSealed: string }>(
      "SELECT ac.username, ac.personId, ac.secretSealed FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.grade = 'KG' LIMIT 1",
    );
    const secret = unsealText(at.world.config.key, youngest!.personId, youngest!.secretSealed);
    await at.browser.go('/d/lantern');
    await at.browser.sees('Use a picture password');
    await at.browser.keys(youngest!.username);
    await at.browser.press('Use a picture password');
    for (const name of picturesOf(secret)!) {
      await at.browser.tabTo(`.pad [aria-label=${name}]`, 60);
      await at.browser.keys(Key.ENTER);
    }
    expect(await at.browser.violations()).toEqual([]);
    await at.browser.press('Sign in');
    await at.browser.sees('Hello, ');
    await at.browser.driver.manage().deleteAllCookies();
    const child = at.world.signIns.find(({ who }) => who.startsWith('student'))!;
    await at.browser.signIn(child.username, child.secret);
    await at.browser.sees('Hello, Wilhelmina');
    expect(await at.browser.driver.executeScript('return document.documentElement.scrollWidth <= innerWidth')).toBe(
      true,
    );
    expect(await at.browser.violations()).toEqual([]);
    // A child who goes to a coordinator's place is led back.
    await at.browser.go('/people');
    await at.browser.sees('Hello, Wilhelmina');
    await at.browser.size(1280, 800);
  });
});

describe('with an empty database', () => {
  it('the first run makes the first coordinator, and every place says what to do', async () => {
    const empty = await World.open('empty', { demo: false });
    const fresh = await ServerProcess.start(empty.config);
    const first = await Browser.open(fresh.base);
    try {
      await first.go('/');
      await first.sees('Set up Sheaf');
      expect(await first.violations()).toEqual([]);
      const type = async (label: string, ...keys: string[]) => (await first.labeled(label)).sendKeys(...keys);
      await type('Set-up code', setupCode(empty.config));
      await type('District', 'Far Harbor District');
      await type('Your given name', 'Maren');
      await type('Your family name', 'Holm');
      await type('Username', 'mholm');
      await type('Password', 'short', Key.ENTER);
      await first.sees('Choose the first and the last day');
      const [begins, ends] = await first.driver.findElements({ css: '.ant-picker-range input' });
      await begins!.sendKeys('Aug 26, 2026', Key.ENTER);
      await ends!.sendKeys('Jun 22, 2027', Key.ENTER);
      await type('Password', Key.ENTER);
      await first.sees('at least 8 characters. A few words work well');
      await type('Password', '-but-long-enough', Key.ENTER);
      await first.sees('Nothing needs your attention.');
      await first.sees('Bring in the roster');
      await first.sees('M. Holm');
      for (const [path, text] of [
        ['/', 'No students yet'],
        ['/imports', 'No file has been imported yet'],
        ['/people', '1 person'],
        ['/classes', 'No classes yet'],
        ['/handouts', 'No class has students'],
        ['/licenses', 'No products yet'],
        ['/licenses/materials', 'No materials yet'],
        ['/classes/work', 'No assignments yet'],
        ['/classes/use', 'No usage was reported'],
        ['/devices', 'No devices here yet'],
        ['/devices/carts', 'No cart yet'],
        ['/devices/stock', 'No grade has one device'],
        ['/year', 'No school has students yet'],
        ['/year/sections', 'No one moves up'],
        ['/year/archive', 'No classes have ended yet'],
        ['/ledger', 'First run'],
        ['/requests', 'No join requests'],
        ['/profile', 'Where you are signed in'],
        ['/settings/staff', 'No one has been invited yet'],
        ['/settings/products', 'No products yet'],
        ['/settings/schools', 'New school'],
        ['/settings/feeds', 'New feed'],
        ['/settings/usernames', 'Use this pattern'],
        ['/settings/passwords', 'Student passwords'],
        ['/settings/devices', 'Replace after'],
        ['/settings/retention', 'Keep for (months)'],
        ['/year/retention', 'Due today'],
      ] as const) {
        await first.go(path);
        await first.sees(text);
        await settle();
        expect([path, await first.violations()]).toEqual([path, []]);
      }
      expect(await first.errors()).toEqual([]);
    } finally {
      await first.close();
      await fresh.stop();
      await empty.close();
    }
  });
});
