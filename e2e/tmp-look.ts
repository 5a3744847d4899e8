import { Browser, Key } from './browser';
import { By } from 'selenium-webdriver';
import { resolve } from 'node:path';
const b = await Browser.open('http://127.0.0.1:8200', Number(process.env.W ?? 1280), Number(process.env.H ?? 800));
const still = (ms = 800) => new Promise((next) => setTimeout(next, ms));
const shot = async (n: string) => {
  await still();
  await b.picture(`/tmp/w/${n}.png`);
};
const api = (m: string, p: string, body?: unknown) =>
  b.driver.executeAsyncScript(
    `const done = arguments[arguments.length-1]; fetch(arguments[1], { method: arguments[0], headers: { 'content-type': 'application/json', 'x-sheaf': '1' }, body: arguments[2] && JSON.stringify(arguments[2]) }).then(async (r) => done([r.status, await r.text()]), (e) => done(String(e)))`,
    m,
    p,
    body ?? null,
  );
const click = async (css: string) => (await b.find(css)).click();
const clickText = async (t: string) =>
  (await b.driver.findElement(By.xpath(`//*[self::button or self::a][contains(., "${t}")]`))).click();
try {
  if (process.env.NOSIGN !== '1') await b.signIn(process.env.USER_ ?? 'radeyemi', 'lantern-harbor-42');
  const steps = (await import(process.argv[2]!)) as { default: (x: unknown) => Promise<void> };
  await steps.default({ b, Key, By, shot, still, api, click, clickText, resolve });
  console.log(await b.errors());
} catch (e) {
  console.log(String(e).slice(0, 2500));
  await shot('err');
} finally {
  await b.close();
}
