/** Does what a person does and counts it: a click, a key or a typed field each. */
import type { WebElement } from 'selenium-webdriver';
import type { Stage } from './stage';

const shown = `const shown = (e) => e.offsetWidth > 0; return [...document.querySelectorAll('button, a, [role=option], .ant-select-item-option, .line[role=row], .ant-dropdown-menu-item')].filter(shown).map((b) => [b, b.getAttribute('aria-label') ?? '', b.innerText.trim()]).sort((a, b) => (b[2] === arguments[0]) - (a[2] === arguments[0])).find(([, label, text]) => label.startsWith(arguments[0]) || text.startsWith(arguments[0]))?.[0] ?? null`;

export class Actions {
  private done = 0;
  constructor(private readonly at: Pick<Stage, 'browser'>) {}

  run = (script: string, ...args: unknown[]): Promise<unknown> => this.at.browser.driver.executeScript(script, ...args);

  async keys(...pressed: string[]): Promise<void> {
    this.done += pressed.length;
    for (const key of pressed) await this.at.browser.keys(key);
  }
  async chord(...pressed: string[]): Promise<void> {
    this.done++;
    await this.at.browser.chord(...pressed);
  }
  /** By mouse: the first button or link that begins with the words. */
  async click(words: string): Promise<void> {
    await this.at.browser.until(async () => (await this.run(shown, words)) !== null, `there is no “${words}”`);
    await this.on((await this.run(shown, words)) as WebElement);
  }
  async on(element: WebElement): Promise<void> {
    this.done++;
    await element.click();
  }
  /** Pastes into what has the focus. */
  async paste(text: string): Promise<void> {
    this.done++;
    await this.run(
      "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))",
      text,
    );
  }
  /** A field that the test typed into by itself. */
  typed(): void {
    this.done++;
  }
  /** How many since it was asked last. */
  count(): number {
    const { done } = this;
    this.done = 0;
    return done;
  }
  isFocused = (css: string): Promise<unknown> =>
    this.at.browser.until(
      async () => (await this.run('return document.activeElement.matches(arguments[0])', css)) === true,
      `${css} has no focus`,
    );
}
