/** A real Chromium, driven as a person would: mostly by keyboard. Both binaries are Debian's and nothing is downloaded. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import axe from 'axe-core';
import { Builder, By, error, Key, logging, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome';

process.env.SE_OFFLINE = 'true';
process.env.SE_AVOID_STATS = 'true';
const flags = [
  '--headless=new',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-dev-shm-usage',
  '--force-color-profile=srgb',
  '--lang=en-GB',
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
];

interface Violation {
  id: string;
  nodes: { target: string[]; failureSummary: string }[];
}

/** How long what must come may take on a machine that has other work. */
const patience = 180_000;
/** And how often it is looked for. */
const pollMs = 40;

export class Browser {
  private constructor(
    readonly driver: WebDriver,
    private readonly profile: string,
    readonly base: string,
  ) {}

  static async open(base: string, width = 1280, height = 800): Promise<Browser> {
    const profile = mkdtempSync(join(tmpdir(), 'sheaf-browser-'));
    const options = new Options();
    options.setChromeBinaryPath('/usr/bin/chromium');
    options.addArguments(...flags, `--user-data-dir=${profile}`);
    const prefs = new logging.Preferences();
    prefs.setLevel(logging.Type.BROWSER, logging.Level.SEVERE);
    options.setLoggingPrefs(prefs);
    const driver = await new Builder()
      .forBrowser('chrome')
      .setChromeOptions(options)
      .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
      .build();
    const browser = new Browser(driver, profile, base);
    await browser.size(width, height);
    return browser;
  }

  /** The viewport, not the window: the window's size includes a frame. */
  async size(width: number, height: number, dark = false): Promise<void> {
    const { driver } = this;
    const send = (command: string, params: object) =>
      (driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> }).sendDevToolsCommand(
        command,
        params,
      );
    await send('Emulation.setDeviceMetricsOverride', { width, height, deviceScaleFactor: 1, mobile: width < 500 });
    await send('Emulation.setEmulatedMedia', {
      features: [{ name: 'prefers-color-scheme', value: dark ? 'dark' : 'light' }],
    });
  }

  /** Where the DevTools protocol is spoken, as host:port. */
  async debugger(): Promise<string> {
    const options = (await this.driver.getCapabilities()).get('goog:chromeOptions') as { debuggerAddress: string };
    return options.debuggerAddress;
  }
  /** The field that a label names. */
  async labeled(label: string): Promise<WebElement> {
    const found = await this.driver.findElement(By.xpath(`//label[starts-with(normalize-space(), "${label}")]`));
    const id = await found.getAttribute('for');
    return id ? this.driver.findElement(By.id(id)) : found.findElement(By.css('input'));
  }
  go = (path: string): Promise<void> => this.driver.get(this.base + path);

  /** The element that the selector finds once it is there. */
  find = (css: string, timeout = patience): Promise<WebElement> =>
    (
      this.driver.wait(
        until.elementLocated(By.css(css)),
        timeout,
        `nothing matches ${css}`,
        pollMs,
      ) as unknown as Promise<WebElement>
    ).catch(this.withPage);

  /** Waits until the page's text holds the words. */
  async sees(text: string, timeout = patience): Promise<void> {
    await this.driver
      .wait(async () => (await this.text()).includes(text), timeout, `the page does not say “${text}”`, pollMs)
      .catch(this.withPage);
  }
  /** What was waited for in vain, with what the page says instead. */
  private withPage = async (error: unknown): Promise<never> => {
    const text = await this.text();
    const said = text.length > 2000 ? `${text.slice(0, 1000)} … ${text.slice(-1000)}` : text;
    throw new Error(`${error instanceof Error ? error.message : String(error)}. It says: ${said}`);
  };
  /** What the page says, with single spaces. */
  text = async (): Promise<string> =>
    ((await this.driver.executeScript('return document.body.innerText')) as string).replace(/\s+/g, ' ');
  until = (test: () => Promise<boolean>, what: string, timeout = patience): Promise<unknown> =>
    this.driver.wait(async () => test().catch(() => false), timeout, what, pollMs);

  /** Types keys at whatever has the focus, as a keyboard does. Whoever had it may be drawn anew just then: nothing was typed yet. */
  async keys(...keys: string[]): Promise<void> {
    const type = () =>
      this.driver
        .switchTo()
        .activeElement()
        .sendKeys(...keys);
    for (let left = 5; ; left--) {
      try {
        return await type();
      } catch (failure) {
        const drawnAnew =
          failure instanceof error.StaleElementReferenceError || failure instanceof error.ElementNotInteractableError;
        if (!drawnAnew || left === 0) throw failure;
        await new Promise((next) => setTimeout(next, 50));
      }
    }
  }
  /** One key with others held down. */
  async chord(...keys: string[]): Promise<void> {
    const last = keys.pop()!;
    const actions = this.driver.actions();
    for (const key of keys) actions.keyDown(key);
    actions.sendKeys(last);
    for (const key of [...keys].reverse()) actions.keyUp(key);
    await actions.perform();
  }
  /** Moves on with Tab until the focus is on what the selector names. */
  async tabTo(css: string, most = 80, back = false): Promise<void> {
    // What is still being loaded would be passed by.
    await this.find(css);
    await this.tabUntil('one.matches(wanted)', css, most, back);
  }

  /**
   * Moves on with Tab until the focus is where an expression of the page holds, in which `one` is an element and
   * `wanted` is what is looked for. How many are in between is counted, and a few fewer than these are pressed at once.
   */
  private async tabUntil(holds: string, wanted: string, most: number, back = false): Promise<void> {
    for (let pressed = 0; pressed < most;) {
      const left = await this.driver.executeScript<number>(
        `const [wanted, back] = arguments;
         const is = (one) => ${holds};
         const now = document.activeElement;
         if (now && is(now)) return 0;
         const able = [...document.querySelectorAll('a[href], button, input, select, textarea, summary, [tabindex]')]
           .filter((one) => one.tabIndex >= 0 && !one.disabled && one.checkVisibility({ visibilityProperty: true }));
         if (back) able.reverse();
         const from = able.indexOf(now);
         const to = able.findIndex((one, i) => i > from && is(one));
         return from < 0 || to < 0 ? 1 : Math.max(1, to - from - 4);`,
        wanted,
        back,
      );
      if (left === 0) return;
      const tabs = Key.TAB.repeat(left);
      if (back) await this.chord(Key.SHIFT, tabs);
      else await this.keys(tabs);
      pressed += left;
    }
    const at = await this.driver.executeScript('return document.activeElement?.outerHTML.slice(0, 200)');
    throw new Error(`Tab does not reach ${wanted}; it is at ${String(at)}`);
  }
  /** Types into a choice that is reached by Tab and takes what is then offered first, which holds what was typed. */
  async choose(css: string, typed: string, most = 80, back = false): Promise<void> {
    await this.tabTo(css, most, back);
    await this.keys(typed);
    await this.until(
      () =>
        this.driver.executeScript(
          'return [...document.querySelectorAll(".ant-select-item-option-active")].some((one) => one.offsetWidth > 0 && one.innerText.toLowerCase().includes(arguments[0]))',
          typed.toLowerCase(),
        ),
      `“${typed}” is not offered`,
    );
    await this.keys(Key.ENTER);
  }
  /**
   * Presses the button or link that begins so, reached by Tab. It is looked for anew at each step, as it may be drawn
   * anew, and the page may take the focus elsewhere when it is loaded.
   */
  async press(words: string, most = 200): Promise<void> {
    const found = `[...document.querySelectorAll('button, a')].find((b) => b.innerText.trim().startsWith(wanted))`;
    await this.until(
      () =>
        this.driver.executeScript(
          `const [wanted] = arguments; return ${found}?.disabled !== true && !!${found}`,
          words,
        ),
      `there is no button “${words}” that can be pressed`,
    );
    for (let left = 5; ; left--) {
      await this.tabUntil(`one === ${found}`, words, most);
      const one = await this.driver.executeScript<WebElement | null>(
        `const [wanted] = arguments; const one = ${found}; return one === document.activeElement ? one : null`,
        words,
      );
      try {
        if (one) return await one.sendKeys(Key.ENTER);
      } catch (failure) {
        if (!(failure instanceof error.StaleElementReferenceError)) throw failure;
      }
      if (left === 0) throw new Error(`“${words}” does not keep the focus`);
    }
  }
  /** Takes what begins so from the menu of a button that is reached by Tab. */
  async fromMenu(button: string, words: string): Promise<void> {
    await this.tabTo(button, 200);
    await this.keys(Key.ENTER);
    const at = () => this.driver.executeScript<string>('return document.activeElement?.innerText ?? ""');
    await this.until(
      () => this.driver.executeScript('return document.activeElement?.matches("[role=menuitem]")'),
      `${button} opens no menu`,
    );
    for (let i = 0; i < 30 && !(await at()).trim().startsWith(words); i++) await this.keys(Key.ARROW_DOWN);
    if (!(await at()).trim().startsWith(words)) throw new Error(`the menu has no “${words}”`);
    await this.keys(Key.ENTER);
  }
  async signIn(username: string, secret: string): Promise<void> {
    await this.go('/sign-in');
    await this.find('input[autocomplete=username]');
    await this.until(
      () => this.driver.executeScript('return document.activeElement.matches("input[autocomplete=username]")'),
      'the first field has no focus',
    );
    await this.keys(username, Key.TAB, secret, Key.ENTER);
    await this.until(
      async () => !(await this.driver.getCurrentUrl()).includes('/sign-in'),
      `${username} is not signed in`,
    );
  }
  /** Closes what the page opened beside itself, as a print: a page behind another one is not drawn. */
  async alone(): Promise<void> {
    const { driver } = this;
    const own = await driver.getWindowHandle();
    for (const other of await driver.getAllWindowHandles()) {
      if (other === own) continue;
      await driver.switchTo().window(other);
      await driver.close();
    }
    await driver.switchTo().window(own);
  }
  async picture(file: string): Promise<void> {
    writeFileSync(file, await this.driver.takeScreenshot(), 'base64');
  }
  /** By the menu of the person, by keyboard. */
  async signOut(): Promise<void> {
    await this.tabTo('.head .own span > .ant-dropdown-trigger', 200);
    await this.keys(Key.ENTER);
    await this.find('.ant-dropdown-menu-item');
    await this.keys(Key.END, Key.ENTER);
    await this.find('input[autocomplete=username]');
  }
  /**
   * What axe finds wrong with the page as it stands: WCAG 2.2 A and AA, and best practices, or its colors alone; a list
   * that is open stands in no landmark.
   */
  async violations(what: 'all' | 'colors' = 'all'): Promise<string[]> {
    // A color that is on its way from one state to the next is nobody's choice: what is looked at is where it ends.
    if (!(await this.driver.executeScript<boolean>("return 'axe' in window")))
      await this.driver.executeScript(axe.source);
    await this.driver.executeScript(
      `const still = document.createElement('style'); still.id = 'still'; still.textContent = '* { transition: none !important; animation-duration: 0s !important; animation-delay: 0s !important; }'; document.head.append(still);`,
    );
    const found = (await this.driver.executeAsyncScript(
      `const done = arguments[1]; const over = (r) => { document.getElementById("still").remove(); done(r.violations); };
       const rules = arguments[0] === "colors" ? { runOnly: { type: "rule", values: ["color-contrast"] } } :
         { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"], rules: { region: { enabled: !document.querySelector(".ant-select-dropdown:not(.ant-select-dropdown-hidden)") } } };
       axe.run(document, { ...rules, resultTypes: ['violations'] }).then(over);`,
      what,
    )) as Violation[];
    return found.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .slice(0, 3)
          .map((node) => `${node.target.join(' ')} (${node.failureSummary.split('\n')[1]?.trim()})`)
          .join('; ')}`,
    );
  }
  /** Controls and headings that lie outside of the window where nothing scrolls to them. */
  outside = (): Promise<string[]> =>
    this.driver.executeScript<string[]>(
      `const reached = (one) => {
         let right = one.getBoundingClientRect().right;
         for (let box = one.parentElement; box && right > innerWidth + 1; box = box.parentElement) {
           const { overflowX } = getComputedStyle(box);
           if (/auto|scroll/.test(overflowX) && box.scrollWidth > box.clientWidth) return true;
           if (/hidden|clip/.test(overflowX)) right = Math.min(right, box.getBoundingClientRect().right);
         }
         return right <= innerWidth + 1;
       };
       return [...document.querySelectorAll('button, a, input, label, h1, h2, h3')]
         .filter((one) => one.getClientRects().length > 0 && !one.closest('svg, .sr') && !reached(one))
         .map((one) => one.tagName + ' ' + (one.innerText || one.getAttribute('aria-label') || one.className))`,
    );
  /** Errors on the console since the last look. */
  async errors(): Promise<string[]> {
    const entries = await this.driver.manage().logs().get(logging.Type.BROWSER);
    // An answer of 401 to the very first "who am I" and refused sign-ins are answers, not errors of the page.
    return entries
      .map(({ message }) => message)
      .filter((message) => !/status of (401|403|404|409|422|429)/.test(message));
  }
  async close(): Promise<void> {
    await this.driver.quit();
    rmSync(this.profile, { recursive: true, force: true });
  }
}
export { Key };
