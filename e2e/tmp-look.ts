import { resolve } from 'node:path';
import { Browser, Key } from './browser';
const [who, stepsFile, size = '1280x800'] = process.argv.slice(2);
const browser = await Browser.open('http://127.0.0.1:8200');
const [w, h] = size.split('x').map(Number);
await browser.driver.manage().window().setRect({ width: w, height: h });
try {
  if (who !== 'none') await browser.signIn(who!, process.env.SECRET ?? 'lantern-harbor-42');
  const { default: steps } = await import(resolve(stepsFile!));
  await steps(browser, Key, async (name: string) => {
    await new Promise((r) => setTimeout(r, 900));
    await browser.picture(`/tmp/w/${name}.png`);
    console.log(name);
  });
  console.log('errors', await browser.errors());
} catch (e) {
  console.log('FAILED', e);
  await browser.picture('/tmp/w/failed.png');
} finally {
  await browser.close();
}
