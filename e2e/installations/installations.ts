import { readFileSync, writeFileSync } from 'node:fs';

/** An application with the demo data. */
export interface Installation {
  readonly url: string;
  /** Where sources send to. */
  readonly intake: string;
  readonly syslogPort: string;
  /** Its data folder. */
  readonly data: string;
  /** The folder in which its sources may read files. */
  readonly files: string;
}

/** One installation per worker, so that no test sees another test's changes. */
export const installationsAtATime = 2;

/** The environment variable with the path of the file that lists the installations; workers inherit it. */
const listVariable = 'OTTER_INSTALLATIONS';

/** Writes the list of installations to a file and tells workers where it is. */
export function publishInstallations(file: string, installations: readonly Installation[]): void {
  writeFileSync(file, JSON.stringify(installations));
  process.env[listVariable] = file;
}

/** The installation of the current worker. All workers share the first one until there are several. Throws if there is none. */
export function installation(): Installation {
  const all: readonly Installation[] = JSON.parse(readFileSync(process.env[listVariable] ?? '', 'utf8'));
  const found = all[Number(process.env.TEST_PARALLEL_INDEX)] ?? all[0];
  if (!found) throw new Error('There is no installation for this worker.');
  return found;
}
