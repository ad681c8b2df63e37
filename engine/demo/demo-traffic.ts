import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import type { Database } from '#store/database.ts';
import { type DemoRecord, readDemo } from '#store/demo.ts';
import type { EngineConfig } from '../config.ts';
import { type Leases, leaseNames } from '../leases.ts';
import type { Log } from '../log.ts';

/** A process that ends by itself is started again after so long (milliseconds), but not after so many ends in a row. */
const startPause = 2_000;
const mostEnds = 5;
/** How long it may take to end when it is told to (milliseconds). */
const endPatience = 5_000;

/**
 * Runs the demo's senders, a process of their own, while the installation has the demo data, on the one engine that has the lease for it; and
 * has everything removed once that is asked for.
 */
export class DemoTraffic {
  /** Why it could not be loaded; empty where it could. */
  problem = '';
  private record: DemoRecord | undefined;
  private child: ChildProcess | undefined;
  private ends = 0;
  private startedAt = 0;

  constructor(
    private readonly setting: {
      readonly database: Database;
      readonly leases: Leases;
      readonly config: EngineConfig;
      readonly log: Log;
      /** Removes everything that came with the demo data; nothing is sent any more when it is called. */
      readonly remove: (record: DemoRecord) => Promise<void>;
      /** Notes that there is none, as it could not be loaded. */
      readonly giveUp: () => Promise<void>;
    },
  ) {}

  /** The lease that is wanted while there is something to do. */
  names(): readonly string[] {
    return this.record ? [leaseNames.demo] : [];
  }

  /** Looks again whether the installation has the demo data. */
  async refresh(): Promise<void> {
    const before = this.record;
    this.record = await readDemo(this.setting.database.db);
    if (!before && this.record) {
      this.ends = 0;
      this.problem = '';
    }
  }

  /** Starts what should run and is not running, ends what should not, and removes what is to be removed. */
  async turn(): Promise<void> {
    if (!this.record && !this.child) return;
    const isOurs = this.setting.leases.get(leaseNames.demo) !== undefined;
    if (!this.record || !isOurs || this.record.state === 'leaving') await this.stop();
    if (!this.record || !isOurs) return;
    if (this.record.state === 'leaving') {
      await this.setting.remove(this.record);
      await this.refresh();
      return;
    }
    if (this.child || Date.now() - this.startedAt < startPause) return;
    if (this.ends < mostEnds) this.start();
    else {
      await this.setting.giveUp();
      await this.refresh();
    }
  }

  /** Ends the senders; resolves when they have ended. */
  async stop(): Promise<void> {
    const { child } = this;
    this.child = undefined;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = once(child, 'exit');
    child.kill('SIGTERM');
    const late = setTimeout(() => child.kill('SIGKILL'), endPatience);
    await ended.finally(() => clearTimeout(late));
  }

  private start(): void {
    const { config, log } = this.setting;
    this.startedAt = Date.now();
    const child = spawn(process.execPath, [join(config.workersFolder, '..', 'demo', 'main.js')], {
      env: {
        ...process.env,
        DATABASE_URL: config.databaseUrl,
        INTAKE_PORT: String(config.intakePort),
        ENGINE_PORT: String(config.enginePort),
        SYSLOG_PORT: String(config.syslogPort),
        ENGINE_SECRET: config.engineSecret,
        DATA_DIR: config.dataDir,
        DEMO_IN_INSTALLATION: '1',
      },
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    this.child = child;
    child.on('message', (message) => {
      if (message === 'ready') this.ends = 0;
      else if (typeof message === 'object' && 'problem' in message) this.problem = String(message.problem);
    });
    child.once('error', (error) => log.error({ err: error }, 'The demo could not be started.'));
    child.once('exit', (code) => {
      if (this.child !== child) return;
      this.child = undefined;
      this.ends++;
      log.warn(`The demo ended by itself (code ${code}); it is started again.`);
    });
  }
}
