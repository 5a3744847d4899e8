/** One's own account in the browser: a passkey, a code of an app, a forgotten password, signing out everywhere, drafts. */
import { Secret, TOTP } from 'otpauth';
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { Mailbox } from '#server/testing/mailbox';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser, Key } from './browser';

let world: World;
let mailbox: Mailbox;
let server: ServerProcess;
let browser: Browser;
const usernameOf = (who: string) => world.signIns.find((s) => s.who.startsWith(who))!.username;
beforeAll(async () => {
  world = await World.open('account');
  mailbox = await Mailbox.start();
  // A passkey is bound to a name, and an address is none.
  server = await ServerProcess.start({ ...world.config, mail: mailbox.mail }, { host: 'localhost' });
  browser = await Browser.open(server.base);
});
afterEach(async () => {
  expect(await browser.errors()).toEqual([]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
  mailbox.stop();
  await world.close();
});

const command = (name: string, parameters: object) =>
  (browser.driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> }).sendDevToolsCommand(
    name,
    parameters,
  );
const signedOut = async () => {
  await browser.driver.manage().deleteAllCookies();
};
const profile = async () => {
  await browser.go('/profile');
  await browser.sees('Where you are signed in');
};

it('adds a passkey, signs in by it alone, and needs no password for that', async () => {
  await command('WebAuthn.enable', { enableUI: false });
  await command('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  await browser.signIn(usernameOf('district'), demoPassword);
  await profile();
  expect(await browser.violations()).toEqual([]);
  await browser.tabTo('input[aria-label="Name of the passkey"]', 120);
  await browser.keys('Office laptop');
  await browser.press('Add passkey');
  await browser.sees('Passkey: Office laptop');
  await browser.sees('Your recovery codes');
  expect(await browser.violations()).toEqual([]);
  await signedOut();
  await browser.go('/sign-in');
  await browser.press('Sign in with a passkey');
  await browser.sees('R. Adeyemi');
  // With the password alone the passkey is asked for next, and the browser gives it.
  await signedOut();
  await browser.go('/sign-in');
  await browser.find('input[autocomplete=username]');
  await browser.keys(usernameOf('district'), Key.TAB, demoPassword, Key.ENTER);
  await browser.sees('R. Adeyemi');
  const ways = await world.db.select<{ detail: string }>(
    "SELECT detail FROM audit WHERE action = 'sign-in' ORDER BY id DESC LIMIT 2",
  );
  expect(ways.map(({ detail }) => detail.split(',')[0])).toEqual(['passkey', 'passkey']);
});

it('sets up an app, is asked for its code, and removes it again', async () => {
  await signedOut();
  await browser.signIn(usernameOf('school'), demoPassword);
  await profile();
  await browser.press('Set up app');
  await browser.sees('Scan this with an authenticator app');
  const secret = (await (await browser.find('form .mono')).getText()).trim();
  const code = (offset: number) =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + offset * 30_000 });
  await browser.tabTo('#app-code', 120);
  await browser.keys(code(-1), Key.ENTER);
  await browser.sees('Your recovery codes');
  await browser.sees('Authenticator app');
  await signedOut();
  await browser.go('/sign-in');
  await browser.find('input[autocomplete=username]');
  await browser.keys(usernameOf('school'), Key.TAB, demoPassword, Key.ENTER);
  await browser.sees('One more step');
  expect(await browser.violations()).toEqual([]);
  await browser.tabTo('#factor-code', 20);
  await browser.keys('000000', Key.ENTER);
  await browser.sees('That code is wrong');
  await browser.chord(Key.CONTROL, 'a');
  await browser.tabTo('#factor-code', 20, true);
  await browser.chord(Key.CONTROL, 'a');
  await browser.keys(code(0), Key.ENTER);
  await browser.until(
    async () => !(await browser.driver.getCurrentUrl()).includes('/sign-in'),
    'the code does not sign in',
  );
});

it('signs out everywhere else, and asks for the password again when the session is old', async () => {
  const other = await server.signIn(usernameOf('teacher'), demoPassword);
  expect(await other.get<{ role: string }>('/api/me')).toMatchObject({ role: 'teacher' });
  await signedOut();
  await browser.signIn(usernameOf('teacher'), demoPassword);
  await world.db.run("UPDATE sessions SET freshAt = '2020-01-01T00:00:00.000Z'");
  await profile();
  await browser.press('Set up app');
  await browser.sees('Type your password again');
  expect(await browser.violations()).toEqual([]);
  await browser.until(
    () => browser.driver.executeScript('return document.activeElement?.id === "confirm-password"'),
    'the dialog has no focus',
  );
  await browser.keys('wrong', Key.ENTER);
  await browser.sees('That is not your password');
  await browser.chord(Key.CONTROL, 'a');
  await browser.keys(demoPassword, Key.ENTER);
  await browser.sees('Scan this with an authenticator app');
  await browser.press('Sign out everywhere else');
  await browser.sees('1 session ended.');
  expect(await other.get('/api/me')).toMatchObject({ error: 'Sign in first.' });
});

it('has a forgotten password chosen anew by a link', async () => {
  await world.db.run(
    'UPDATE people SET email = :email WHERE id = (SELECT personId FROM accounts WHERE username = :u)',
    {
      email: 'kealoha@isles.example',
      u: usernameOf('teacher'),
    },
  );
  await signedOut();
  await browser.go('/sign-in');
  await browser.press('Forgot password?');
  await browser.sees('Forgot your password?');
  expect(await browser.violations()).toEqual([]);
  await browser.tabTo('#forgot-who', 20);
  await browser.keys('kealoha@isles.example', Key.ENTER);
  await browser.sees('a link is on its way');
  let letter: { to: string; text: string } | undefined;
  await browser.until(async () => {
    [letter] = await mailbox.letters();
    return letter?.to === 'kealoha@isles.example';
  }, 'no letter came');
  const link = new URL(letter!.text.match(/https?:\/\/\S+/)![0]);
  await browser.go(`${link.pathname}${link.hash}`);
  await browser.sees('Choose a new password');
  // The token is not left in the address.
  expect(await browser.driver.getCurrentUrl()).not.toContain(link.hash);
  await browser.tabTo('#new-password', 20);
  await browser.keys('rowing before breakfast', Key.ENTER);
  await browser.until(
    async () => !(await browser.driver.getCurrentUrl()).includes('/password'),
    'the password is not kept',
  );
});

it('leaves nothing of one person in the browser for the next', async () => {
  await signedOut();
  await world.db.run('DELETE FROM passkeys');
  await world.db.run('DELETE FROM app_codes');
  await browser.signIn(usernameOf('district'), demoPassword);
  await browser.go('/people');
  await browser.sees('Gather all');
  await browser.press('New students');
  await browser.tabTo('.typed [data-row="0"] input', 60);
  await browser.keys('Secretfamily', Key.TAB, 'Secretgiven');
  await browser.until(
    async () => (await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM drafts'))!.n === 1,
    'the draft is not kept',
  );
  // Whatever the browser holds goes, not just what is known today.
  await browser.driver.executeScript(
    'for (const store of [localStorage, sessionStorage]) store.setItem("mark", "Secretmark")',
  );
  await browser.signOut();
  await browser.sees('Forgot password?');
  const kept = await browser.driver.executeScript(
    'return JSON.stringify([Object.entries(localStorage), Object.entries(sessionStorage)])',
  );
  expect(kept).not.toMatch(/Secretfamily|Secretmark/);
  const typed = () =>
    browser.driver.executeScript<string>(
      'return [...document.querySelectorAll(".typed input")].map((input) => input.value).join()',
    );
  await browser.signIn(usernameOf('school'), demoPassword);
  await browser.go('/people');
  await browser.sees('Gather all');
  await browser.press('New students');
  await browser.find('.typed [data-row="0"] input');
  expect(await typed()).not.toContain('Secretfamily');
  await signedOut();
  await browser.signIn(usernameOf('district'), demoPassword);
  await browser.go('/people');
  await browser.sees('Gather all');
  await browser.press('New students');
  await browser.until(
    async () => (await (await browser.find('.typed [data-row="0"] input')).getAttribute('value')) === 'Secretfamily',
    'the draft does not come back to its writer',
  );
});
