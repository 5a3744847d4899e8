import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { freeBytes, shortForWork, shortOf } from './disk';

it('a disk that is short is told with what it has and what is needed, where the database is our own', () => {
  const dataFolder = mkdtempSync(join(tmpdir(), 'sheaf-disk-'));
  try {
    expect(freeBytes(dataFolder)).toBeGreaterThan(1_000_000);
    expect(shortOf(dataFolder, 1)).toBeNull();
    // The database is elsewhere: nothing is known of its disk.
    expect(shortForWork({ dataFolder }, 1_000_000)).toBeNull();
    mkdirSync(join(dataFolder, 'mariadb'));
    expect(shortForWork({ dataFolder }, 1_000_000_000)).toBeNull();
    expect(shortForWork({ dataFolder }, 1_400_000)).toBe(
      `Not enough disk space: ${dataFolder} has 2 MB free, and 400 MB are needed.`,
    );
  } finally {
    rmSync(dataFolder, { recursive: true });
  }
});
