/**
 * What a feed may reach for. Folders: below those that the operator named. Addresses: https, plain http on this machine
 * alone; nothing in a private network unless the operator named the host, so that a feed is no way to look around inside.
 */
import { say } from '#core/messages/say';
import { lookup } from 'node:dns/promises';
import { realpath } from 'node:fs/promises';
import { BlockList, isIP } from 'node:net';
import { resolve, sep } from 'node:path';
import { Refusal } from '#core/tabular/decode';
import type { Config } from '../config';

const loopback = new BlockList();
loopback.addSubnet('127.0.0.0', 8, 'ipv4');
loopback.addAddress('::1', 'ipv6');

/** Not reached from the internet: RFC 1918, 6598, 3927, 4193, 4291; and what is no host's at all. */
const inside = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const)
  inside.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 128],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
  ['64:ff9b::', 96],
] as const)
  inside.addSubnet(net, bits, 'ipv6');

const isIn = (list: BlockList, address: string): boolean => {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
  return list.check(plain, isIP(plain) === 6 ? 'ipv6' : 'ipv4');
};

/** The folder as it really lies, links followed. Throws Refusal unless it is below one of the operator's. */
export async function reachedFolder(folder: string, { feedFolders }: Pick<Config, 'feedFolders'>): Promise<string> {
  if (feedFolders.length === 0) throw new Refusal('folder', say('feeds.thisServerAllowsNoFolders'));
  const real = await realpath(resolve(folder)).catch(() => null);
  if (real === null) throw new Refusal('folder', say('feeds.couldntOpenTheFolderCheck', { folder }));
  for (const allowed of feedFolders) {
    const base = await realpath(allowed).catch(() => null);
    if (base !== null && (real === base || real.startsWith(base + sep))) return real;
  }
  throw new Refusal('folder', say('feeds.feedsMayNotReadThe', { folder, list: feedFolders.join(' or ') }));
}

/** Throws Refusal for an address that a feed may not ask. What it stands for is looked up, so that no name hides it. */
export async function mustReach(address: string, { feedHosts }: Pick<Config, 'feedHosts'>): Promise<void> {
  const url = new URL(address);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const found = isIP(host)
    ? [{ address: host }]
    : await lookup(host, { all: true }).catch(() => {
        throw new Refusal('service', say('feeds.thereIsNoHostNamed', { host }));
      });
  const isHere = found.every((one) => isIn(loopback, one.address));
  if (url.protocol !== 'https:' && !(url.protocol === 'http:' && isHere))
    throw new Refusal('service', say('feeds.isNotEncryptedUseAn', { origin: url.origin }));
  if (isHere || feedHosts.includes(host)) return;
  if (found.some((one) => isIn(inside, one.address) || isIn(loopback, one.address)))
    throw new Refusal('service', say('feeds.isOnAPrivateNetwork', { host }));
}
