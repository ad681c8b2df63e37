import type { ChildProcess } from 'node:child_process';

/** A part of the application that was started. */
export interface StartedPart {
  readonly child: ChildProcess;
  readonly stop: () => Promise<void>;
}

export declare function supervise(
  name: string,
  begin: () => Promise<StartedPart>,
  giveUp: (reason: string) => void,
  obstacle?: () => Promise<string | undefined>,
): Promise<{ readonly stop: () => Promise<void> }>;
