/** How much room a disk has, and the words for too little of it: said before large work begins, not in the middle of it. */
import { existsSync, statfsSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Config } from '../config';

/** Bytes that are free for this user on the disk of the folder. */
export function freeBytes(folder: string): number {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
}

const megabytes = (bytes: number): string => `${Math.ceil(bytes / 1e6).toLocaleString('en-US')} MB`;

/** The sentence for a disk that has less than this; null: it has enough. */
export function shortOf(folder: string, bytes: number, free = freeBytes(folder)): string | null {
  return free < bytes
    ? `Not enough disk space: ${folder} has ${megabytes(free)} free, and ${megabytes(bytes)} are needed.`
    : null;
}

/** For the parts of a large plan, its rows and the logs of both; an estimate, the same for all that may be large. */
const largeWork = 400_000_000;

/** The sentence for too little room for large work in a database of Sheaf's own; of one elsewhere nothing is known. */
export const shortForWork = ({ dataFolder }: Pick<Config, 'dataFolder'>, free?: number): string | null =>
  existsSync(resolve(dataFolder, 'mariadb')) ? shortOf(dataFolder, largeWork, free) : null;
