import { ledgerStart } from '#core/routing/ledger.ts';
import type { Database } from '#store/database.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import type { Measures } from '../measures/measures.ts';

/** Counts syslog messages that found no room, and books them in the ledger. */
export class LostMessages {
  private unbooked = 0;

  constructor(
    private readonly database: Database,
    private readonly measures: Measures,
  ) {}

  readonly count = (messages: number): void => {
    this.measures.lost += messages;
    this.unbooked += messages;
  };

  /** Books what was lost since the last time. */
  async book(now: number): Promise<void> {
    const events = this.unbooked;
    if (events === 0) return;
    const shared = {
      source: 'syslog',
      outcome: 'lost',
      tier: '',
      rule: 'udp',
      parsed: false,
      bytes: 0,
      stored: 0,
    } as const;
    await addToLedger(this.database.db, [{ ...shared, start: ledgerStart(now, now), events }]);
    this.unbooked -= events;
  }
}
