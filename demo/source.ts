import type { Chance } from './chance.ts';
import type { Happenings } from './world.ts';

/** How a source of the demo sends. */
export type Transport = 'http' | 'syslog-udp' | 'syslog-tcp' | 'otlp-json' | 'otlp-protobuf';

/** One event of the demo before it is sent: when it happened (milliseconds) and its line, or its OTLP record as JSON. */
export interface DemoEvent {
  readonly time: number;
  readonly line: string;
}

/** A sender of the Skerry Line. */
export interface DemoSource {
  readonly name: string;
  readonly transport: Transport;
  readonly owner: string;
  readonly labels: Readonly<Record<string, string>>;
  /** For syslog: which messages are this source's. */
  readonly accepts: string;
  /** Kinds of lines, each with how many an hour there are at a time. */
  readonly kinds: readonly DemoKind[];
}

export interface DemoKind {
  /** Events an hour at that time. */
  readonly perHour: (time: number, happenings: Happenings) => number;
  /** The line of one event; undefined when this event does not happen after all. */
  readonly line: (chance: Chance, time: number, happenings: Happenings) => string | undefined;
}
