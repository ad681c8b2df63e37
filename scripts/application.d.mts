/** Ports and places. */
export interface ApplicationSettings {
  readonly webPort: number;
  readonly intakePort: number;
  readonly enginePort: number;
  readonly syslogPort: number;
  readonly dbPort: number;
  readonly dataDir: string;
  readonly databaseUrl: string;
}

export declare function readSettings(environment: Readonly<Record<string, string | undefined>>): ApplicationSettings;

export declare function startApplication(
  settings: ApplicationSettings,
  options?: {
    readonly demo?: boolean;
    readonly fresh?: boolean;
    readonly output?: 'inherit' | 'ignore';
    readonly web?: boolean;
    readonly engines?: number;
    readonly signal?: AbortSignal;
  },
): Promise<{
  readonly stop: () => Promise<void>;
  /** Why it cannot go on: what ends again and again. */
  readonly ended: Promise<string>;
  readonly databaseUrl: string;
}>;
