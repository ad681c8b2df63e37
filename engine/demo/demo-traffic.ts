import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import type { Database } from '#store/database.ts';
import { type DemoRecord, readDemo } from '#store/demo.ts';
import type { EngineConfig } from '../config.ts';
import { type Leases, leaseNames } from '../leases.ts';
import type { Log } from '../log.ts';

/** Senders that fail are started again after this pause (milliseconds), at most so many times in a row. */
const startPause = 2_000;
const mostEnds = 5;
/** How long the senders may take to stop (milliseconds). */
const endPatience = 5_000;

/**
 * Runs the demo's senders as a child process while the installation has the demo data. Only the engine that holds the lease runs
 * them; it also removes the data when that is requested.
 */
export class DemoTraffic {
  /** Why loading failed; empty where it did not. */
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
      /** Removes the demo data; called after the senders were stopped. */
      readonly remove: (record: DemoRecord) => Promise<void>;
      /** Forgets the demo data, as it could not be loaded. */
      readonly giveUp: () => Promise<void>;
    },
  ) {}

  /** The lease to hold while there is demo data. */
  names(): readonly string[] {
    return this.record ? [leaseNames.demo] : [];
  }

  /** Reads the state of the demo data again. */
  async refresh(): Promise<void> {
    const before = this.record;
    this.record = await readDemo(this.setting.database.db);
    if (!before && this.record) {
      this.ends = 0;
      this.problem = '';
    }
  }

  /** Starts or stops the senders as the state requires, and removes the data if that was requested. */
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

  /** Stops the senders; resolves when they have ended. */
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
      if (typeof message !== 'object' || !('problem' in message)) return;
      this.problem = String(message.problem);
      this.ends = mostEnds;
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
