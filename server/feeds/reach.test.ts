/** What feeds may reach for: each refusal named, and what is in the open let through. */
import { inEnglish } from '#core/messages/languages';
import { expect, it } from 'vitest';
import { mustReach } from './reach';

const of = (address: string, feedHosts: string[] = []) =>
  mustReach(address, { feedHosts }).then(
    () => 'open',
    (error: Error) => inEnglish(error.message),
  );

it('asks by https, by plain http on this machine alone, and nothing in a private network that was not opened', async () => {
  expect(await of('http://127.0.0.1:8090/token')).toBe('open');
  expect(await of('https://203.0.113.9/ims')).toBe('open');
  expect(await of('http://203.0.113.9/ims')).toContain('not encrypted');
  // Published: RFC 1918 and RFC 6890 name the networks that the internet does not reach.
  for (const host of [
    '10.1.2.3',
    '172.31.0.1',
    '192.168.1.1',
    '169.254.169.254',
    '100.64.0.1',
    '0.0.0.0',
    '[fd00::1]',
    '[fe80::1]',
    '[::ffff:10.0.0.1]',
  ])
    expect([host, await of(`https://${host}/`)]).toEqual([host, expect.stringMatching(/on a private network/)]);
  expect(await of('https://10.1.2.3/', ['10.1.2.3'])).toBe('open');
  expect(await of('http://10.1.2.3/', ['10.1.2.3'])).toContain('not encrypted');
  // A name is what it stands for.
  expect(await of('http://localhost:1/')).toBe('open');
  expect(await of('ftp://127.0.0.1/')).toContain('not encrypted');
});
