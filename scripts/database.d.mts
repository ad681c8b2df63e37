import type { ChildProcess } from 'node:child_process';

/** A MariaDB that was started here. */
export interface StartedDatabase {
  readonly child: ChildProcess;
  /** `mysql://` address of the application's database. */
  readonly url: string;
  /** The same without a database named. */
  readonly server: string;
  readonly stop: () => Promise<void>;
}

export declare const databaseName: string;

export declare function startDatabase(
  folder: string,
  port: number,
  options?: {
    readonly bufferPool?: string;
    readonly quick?: boolean;
    readonly rights?: string;
    readonly more?: readonly string[];
    readonly joins?: boolean;
    readonly idsApart?: number;
    readonly user?: string;
  },
): Promise<StartedDatabase>;

export declare function stopProcess(child: ChildProcess, patience: number): Promise<void>;
