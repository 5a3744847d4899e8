/** Three database servers on loopback that are one cluster (Galera, as Debian has it). */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { type LocalDatabase, startMariaDb } from '../local/mariadb';
import { freePorts } from './ports';

const provider = ['/usr/lib/galera/libgalera_smm.so', '/usr/lib64/galera-4/libgalera_smm.so'].find(existsSync);

export interface Node {
  at: { host: string; port: number };
  /** Kills it, as a power cut would. */
  kill: () => Promise<void>;
  /** Starts it again; it is sent what it missed. */
  start: () => Promise<void>;
}
export interface Cluster {
  nodes: readonly [Node, Node, Node];
  user: string;
  password: string;
  stop: () => Promise<void>;
}

/** `first`: statements for its beginning, as root, each on a line. */
export async function startCluster(
  folder: string,
  { args = [], first: statements }: { args?: readonly string[]; first?: string } = {},
): Promise<Cluster> {
  // Of each: for clients, for the group, for what was missed, and for all that there is.
  const first = await freePorts(12);
  const portsOf = (i: number) => ({ sql: first + i, group: first + 3 + i, ist: first + 6 + i, sst: first + 9 + i });
  const members = [0, 1, 2].map((i) => `127.0.0.1:${portsOf(i).group}`).join(',');
  // A new node is sent everything by rsync, which gives up the rights of root, and with them its way into folders of root.
  const programs = resolve(folder, 'programs');
  mkdirSync(programs, { recursive: true });
  const program = (name: string, lines: string[]) =>
    writeFileSync(resolve(programs, name), ['#!/bin/sh', ...lines, ''].join('\n'), { mode: 0o755 });
  program('rsync', [
    '[ "$1" = --daemon ] && [ "$(id -u)" = 0 ] && sed -i "1i uid = 0\\ngid = 0" "$6"',
    'PATH=/usr/bin:/bin exec rsync "$@"',
  ]);
  program('wsrep_sst_own', [`PATH="${programs}:$PATH" exec wsrep_sst_rsync "$@"`]);
  if (statements) writeFileSync(resolve(folder, 'first.sql'), statements);
  const running: (LocalDatabase | null)[] = [null, null, null];
  let password: string | undefined;
  const start = async (i: number, begins: boolean) => {
    const { sql, group, ist, sst } = portsOf(i);
    const own = resolve(folder, `node-${i + 1}`);
    mkdirSync(own, { recursive: true });
    running[i] = await startMariaDb(own, sql, {
      lasting: false,
      password,
      programs,
      args: [
        '--wsrep-on=ON',
        `--wsrep-provider=${provider}`,
        '--wsrep-cluster-name=sheaf-test',
        `--wsrep-cluster-address=gcomm://${begins ? '' : members}`,
        `--wsrep-node-name=node-${i + 1}`,
        `--wsrep-node-address=127.0.0.1:${group}`,
        '--wsrep-sst-method=own',
        `--wsrep-sst-receive-address=127.0.0.1:${sst}`,
        `--wsrep-provider-options=base_port=${group};gmcast.listen_addr=tcp://127.0.0.1:${group};ist.recv_addr=127.0.0.1:${ist};gcache.size=64M;evs.suspect_timeout=PT10S;evs.inactive_timeout=PT20S`,
        '--binlog-format=ROW',
        '--innodb-autoinc-lock-mode=2',
        '--innodb-buffer-pool-size=128M',
        ...args,
        ...(begins && statements ? [`--init-file=${resolve(folder, 'first.sql')}`] : []),
      ],
    });
    ({ password } = running[i]);
  };
  // Now and then its threads meet while it starts, and it ends ("Failed to read thread schedparams", Galera 26.4).
  const patiently = (i: number, begins: boolean, tries = 3): Promise<void> =>
    start(i, begins).catch((error: unknown) => {
      if (tries === 1) throw error;
      return patiently(i, begins, tries - 1);
    });
  for (const i of [0, 1, 2]) await patiently(i, i === 0);
  const node = (i: number): Node => ({
    at: { host: '127.0.0.1', port: portsOf(i).sql },
    kill: async () => {
      const { process } = running[i]!;
      const ended = new Promise<void>((done) => process.once('exit', () => done()));
      process.kill('SIGKILL');
      await ended;
    },
    start: () => patiently(i, false),
  });
  return {
    nodes: [node(0), node(1), node(2)],
    user: 'sheaf',
    password: password!,
    stop: async () => {
      for (const i of [2, 1, 0]) await running[i]?.stop();
    },
  };
}
