import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import type { Database } from '#store/database.ts';
import { type DemoRecord, readDemo } from '#store/demo.ts';
import type { EngineConfig } from '../base/config.ts';
import type { Log } from '../base/log.ts';
import { type Leases, leaseNames } from '../cluster/leases.ts';

/** Senders that fail are started again after a pause that doubles with each failure in a row (milliseconds). */
const leastPause = 2_000;
const mostPause = 60_000;
/** How long the senders may take to stop (milliseconds). */
const endPatience = 5_000;

/**
 * Runs the demo's senders as a child process while the installation has the demo data. Only the engine that holds the lease runs
 * them; it also removes the data when that is requested.
 */
export class DemoTraffic {
  /** Why the senders failed the last time; empty once they run. */
  problem = '';
  private record: DemoRecord | undefined;
  private child: ChildProcess | undefined;
  private failures = 0;
  private failedAt = 0;

  constructor(
    private readonly setting: {
      readonly database: Database;
      readonly leases: Leases;
      readonly config: EngineConfig;
      readonly log: Log;
      /** Removes the demo data; called after the senders were stopped. */
      readonly remove: (record: DemoRecord) => Promise<void>;
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
    if (!before) this.succeeded();
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
    const pause = this.failures === 0 ? 0 : Math.min(mostPause, leastPause * 2 ** (this.failures - 1));
    if (!this.child && Date.now() - this.failedAt >= pause) this.start();
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
    const { config } = this.setting;
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
      if (message === 'ready') this.succeeded();
      else if (typeof message === 'object' && 'problem' in message) this.problem = String(message.problem);
    });
    child.once('error', (error) => this.failed(child, error.message));
    child.once('exit', (code) => this.failed(child, `it ended with code ${code}`));
  }

  private succeeded(): void {
    this.failures = 0;
    this.problem = '';
  }

  private failed(child: ChildProcess, why: string): void {
    // One that was stopped is not ours any more.
    if (this.child !== child) return;
    this.child = undefined;
    this.failures++;
    this.failedAt = Date.now();
    this.setting.log.warn(`The demo's directory failed and are started again: ${this.problem || why}`);
  }
}
