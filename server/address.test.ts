/** Whose address counts behind proxies; sources beside the cases. */
import { describe, expect, it } from 'vitest';
import { clientAddress, proxiesOf } from './address';

const none = proxiesOf([]);
const own = proxiesOf(['127.0.0.1', '10.0.0.0/8', '::1', 'fd00::/8']);
const of = (peer: string, xForwardedFor?: string, proxies = own, forwarded?: string) =>
  clientAddress(peer, { xForwardedFor, forwarded }, proxies);

describe('an address', () => {
  it('is the peer’s own where no proxy is trusted, whatever it says', () => {
    expect(of('203.0.113.9', '198.51.100.1', none)).toBe('203.0.113.9');
    expect(of('127.0.0.1', '198.51.100.1', none)).toBe('127.0.0.1');
    expect(of('203.0.113.9', '10.1.1.1', own)).toBe('203.0.113.9');
    expect(clientAddress('203.0.113.9', { forwarded: 'for=198.51.100.1' }, own)).toBe('203.0.113.9');
  });
  it('is read from the right, over trusted proxies to the first that is none', () => {
    expect(of('127.0.0.1', '198.51.100.1')).toBe('198.51.100.1');
    // Somebody wrote the left one themselves.
    expect(of('127.0.0.1', '8.8.8.8, 198.51.100.1, 10.2.3.4')).toBe('198.51.100.1');
    expect(of('127.0.0.1', '10.9.9.9, 10.2.3.4')).toBe('10.9.9.9');
    expect(of('127.0.0.1', '198.51.100.1, unknown')).toBe('127.0.0.1');
    expect(of('127.0.0.1', '')).toBe('127.0.0.1');
    expect(of('::ffff:127.0.0.1', '198.51.100.1:4711')).toBe('198.51.100.1');
  });
  it('is read from Forwarded as RFC 7239 has it', () => {
    // Published: RFC 7239, section 4: quoted IPv6 with port, several elements, parameters in any order.
    const by = (forwarded: string) => of('10.0.0.1', '8.8.8.8', own, forwarded);
    expect(by('for=192.0.2.43, for="[2001:db8:cafe::17]:4711"')).toBe('2001:db8:cafe::17');
    expect(by('For="[2001:db8:cafe::17]:4711"')).toBe('2001:db8:cafe::17');
    expect(by('proto=https;for=192.0.2.60;by=203.0.113.43')).toBe('192.0.2.60');
    expect(by('for=192.0.2.43, for=10.1.1.1')).toBe('192.0.2.43');
    expect(by('for=_hidden')).toBe('10.0.0.1');
  });
  it('of a proxy that is neither an address nor a network is refused', () => {
    for (const word of ['proxy.example', '10.0.0.0/33', '10.0.0', '::1/129', '10.0.0.0/x', ''])
      expect(() => proxiesOf([word])).toThrow(RangeError);
  });
});
