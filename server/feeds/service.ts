/** A register's service over the open roster standard's REST protocol: everything it has, as a bundle. */
import { say } from '#core/messages/say';
import { zipSync } from 'fflate';
import { z } from 'zod';
import { collections, fromJson, type Records, toFiles } from '#core/oneroster/index';
import { Refusal } from '#core/tabular/decode';
import type { Config } from '../config';
import { mustReach } from './reach';

export interface ServiceAddress {
  /** The rostering service's base, up to and with "v1p2". */
  url: string;
  tokenUrl: string;
  clientId: string;
  secret: string;
}

const pageSize = 2000;
const waitMs = 30_000;
const largestAnswer = 32_000_000;

/** Throws Refusal that says which step failed and what to check. */
export async function fetchBundle(
  at: ServiceAddress,
  config: Pick<Config, 'feedHosts'>,
  progress: (step: string, done: number) => void,
): Promise<Uint8Array> {
  for (const address of [at.tokenUrl, at.url]) await mustReach(address, config);
  const token = await fetchToken(at);
  const records: Records = { 'roles.csv': [] };
  for (const { file, path } of collections) {
    const list: NonNullable<Records[typeof file]> = [];
    for (let offset = 0; ; offset += pageSize) {
      const response = await ask(`${at.url.replace(/\/$/, '')}/${path}?limit=${pageSize}&offset=${offset}`, {
        headers: { Authorization: `Bearer ${token}`, Accept: 'application/json' },
      });
      const page = z.record(z.string(), z.unknown()).parse(await json(response, path))[path];
      if (!Array.isArray(page))
        throw new Refusal('service', say('feeds.theServicesAnswerForHas', { path, list: path }));
      for (const one of page) {
        const { record, roles } = fromJson(file, one);
        list.push(record);
        records['roles.csv']!.push(...roles);
      }
      progress(say('feeds.getting', { path }), list.length);
      if (page.length < pageSize) break;
    }
    records[file] = list;
  }
  // The same records give the same bytes: a night without changes is seen to be one.
  return zipSync(Object.fromEntries(toFiles(records, '1.2')), { mtime: new Date('2000-01-01T00:00:00Z'), level: 3 });
}

async function fetchToken({ tokenUrl, clientId, secret }: ServiceAddress): Promise<string> {
  const response = await ask(tokenUrl, {
    method: 'POST',
    headers: {
      'Content-Type': 'application/x-www-form-urlencoded',
      Authorization: `Basic ${Buffer.from(`${clientId}:${secret}`).toString('base64')}`,
    },
    body: 'grant_type=client_credentials&scope=https%3A%2F%2Fpurl.imsglobal.org%2Fspec%2For%2Fv1p2%2Fscope%2Froster.readonly',
  });
  if (response.status === 401 || response.status === 400)
    throw new Refusal('service', say('feeds.theServiceRejectedThisClient'));
  return z.object({ access_token: z.string().min(1) }).parse(await json(response, say('feeds.theToken'))).access_token;
}

async function ask(url: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(url, { ...init, signal: AbortSignal.timeout(waitMs), redirect: 'error' });
  } catch {
    throw new Refusal('service', say('feeds.theServiceAtIsNot', { url: url.split('?')[0] }));
  }
}

async function json(response: Response, what: string): Promise<unknown> {
  if (!response.ok)
    throw new Refusal('service', say('feeds.theServiceRefusedStatus', { what, status: response.status }));
  const bytes = await bounded(response, what);
  try {
    return JSON.parse(bytes.toString('utf8')) as unknown;
  } catch {
    throw new Refusal('service', say('feeds.theServicesAnswerForIs', { what }));
  }
}

/** An answer's bytes, as they come; a page of people is far smaller than the most. */
async function bounded(response: Response, what: string): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of response.body ?? []) {
    size += part.byteLength;
    if (size > largestAnswer)
      throw new Refusal('service', say('feeds.theServicesAnswerForIs2', { what, size: largestAnswer / 1e6 }));
    parts.push(part);
  }
  return Buffer.concat(parts, size);
}
