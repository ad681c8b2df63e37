import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type StartedDatabase, startDatabase } from '../../scripts/database.mjs';
import { freePort } from './ports.ts';

/** A Galera cluster of MariaDB servers on loopback. */
export interface TestCluster {
  readonly nodes: StartedDatabase[];
  /** The address of the store that begins with a node, counted from 0, and names the others after it. */
  readonly addressFrom: (node: number) => string;
  /** Starts a node again that was ended; it catches up with the others. */
  readonly restart: (node: number) => Promise<void>;
  readonly stop: () => Promise<void>;
}

/** Starts a cluster of `size` nodes. Debian's MariaDB brings Galera along. */
export async function startCluster(size: number): Promise<TestCluster> {
  const folder = mkdtempSync(join(tmpdir(), 'otter-cluster-'));
  chmodSync(folder, 0o755);
  const places: {
    readonly port: number;
    readonly group: number;
    readonly transfer: number;
    readonly catchUp: number;
  }[] = [];
  for (let i = 0; i < size; i++)
    places.push({
      port: await freePort(),
      group: await freePort(),
      transfer: await freePort(),
      catchUp: await freePort(),
    });
  const members = places.map(({ group }) => `127.0.0.1:${group}`).join(',');
  const begin = async (node: number, isFirst: boolean): Promise<StartedDatabase> => {
    const { port, group, transfer, catchUp } = places[node] as (typeof places)[number];
    const provider = [
      `gmcast.listen_addr=tcp://127.0.0.1:${group}`,
      `ist.recv_addr=127.0.0.1:${catchUp}`,
      'gcache.size=32M',
    ];
    const home = join(folder, String(node));
    mkdirSync(home, { recursive: true });
    // All nodes have the accounts of the first.
    if (node > 0) writeFileSync(join(home, 'database-password'), password, { mode: 0o600 });
    return await startDatabase(home, port, {
      quick: true,
      bufferPool: '128M',
      rights: '*.*',
      joins: !isFirst,
      // The copying of data to a new node does not work as root.
      ...(process.getuid?.() === 0 && { user: 'mysql' }),
      more: [
        '--wsrep-on=ON',
        '--wsrep-provider=/usr/lib/galera/libgalera_smm.so',
        `--wsrep-cluster-address=gcomm://${isFirst ? '' : members}`,
        '--wsrep-cluster-name=otter-test',
        `--wsrep-node-address=127.0.0.1:${group}`,
        `--wsrep-sst-receive-address=127.0.0.1:${transfer}`,
        '--wsrep-sst-method=rsync',
        `--wsrep-provider-options=${provider.join(';')}`,
        '--binlog-format=ROW',
        '--innodb-autoinc-lock-mode=2',
      ],
    });
  };
  let password = '';
  const first = await begin(0, true);
  password = new URL(first.server).password;
  const nodes = [first];
  for (let node = 1; node < size; node++) nodes.push(await begin(node, false));
  const hosts = nodes.map(({ server }) => new URL(server).host);
  return {
    nodes,
    addressFrom: (node) => `mysql://otter:${password}@${[...hosts.slice(node), ...hosts.slice(0, node)].join(',')}`,
    restart: async (node) => {
      nodes[node] = await begin(node, false);
    },
    stop: async () => {
      for (const { child, stop } of nodes) {
        child.kill('SIGCONT');
        await stop();
      }
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
