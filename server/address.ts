/**
 * Where a request comes from: the peer's own address, or what trusted proxies say of it. What an untrusted peer says of
 * itself counts for nothing. Source: RFC 7239 (Forwarded), and X-Forwarded-For as proxies commonly write it; both are
 * read from the right, since what stands at the left came from outside.
 */
import { BlockList, isIP } from 'node:net';

/** Addresses and networks ("10.0.0.0/8") of proxies. Throws RangeError for one that is neither. */
export function proxiesOf(words: readonly string[]): BlockList {
  const list = new BlockList();
  for (const word of words) {
    const [address = '', bits] = word.split('/');
    const kind = isIP(address);
    const most = kind === 6 ? 128 : 32;
    if (kind === 0 || (bits !== undefined && !(/^\d{1,3}$/.test(bits) && Number(bits) <= most)))
      throw new RangeError(`${word} is not an address or a network such as 10.0.0.0/8`);
    if (bits === undefined) list.addAddress(address, kind === 6 ? 'ipv6' : 'ipv4');
    else list.addSubnet(address, Number(bits), kind === 6 ? 'ipv6' : 'ipv4');
  }
  return list;
}

/** An address without brackets, port or the prefix of mapped ones; null for what is none. */
function bare(text: string): string | null {
  const trimmed = text.trim().replace(/^"|"$/g, '');
  const inner =
    /^\[([^\]]+)\](?::\d+)?$/.exec(trimmed)?.[1] ?? (/^[\d.]+:\d+$/.test(trimmed) ? trimmed.split(':')[0]! : trimmed);
  const plain = inner.replace(/^::ffff:(?=\d+\.)/i, '');
  return isIP(plain) ? plain : null;
}

const isTrusted = (proxies: BlockList, address: string): boolean =>
  proxies.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4');

/**
 * @param peer the address of the other end of the socket
 * @returns the first address, from the right, that is not a trusted proxy
 */
export function clientAddress(
  peer: string | undefined,
  headers: { forwarded?: string | undefined; xForwardedFor?: string | undefined },
  proxies: BlockList,
): string {
  let nearest = bare(peer ?? '');
  if (nearest === null) return 'unknown';
  const hops =
    headers.forwarded !== undefined ? forwardedFor(headers.forwarded) : (headers.xForwardedFor ?? '').split(',');
  for (const hop of hops.reverse()) {
    if (!isTrusted(proxies, nearest)) return nearest;
    const before = bare(hop);
    // A hop that hides its address, or is written wrong: the one after it is the last that is known.
    if (before === null) return nearest;
    nearest = before;
  }
  return nearest;
}

const forwardedFor = (header: string): string[] =>
  header.split(',').map((element) => /(?:^|;)\s*for=("[^"]*"|[^;,\s]*)/i.exec(element)?.[1] ?? '');
