import { type LookupAnswers, type Lookups, TaughtResources } from '#core/steps/lookups.ts';
import type { Proposal } from '#core/templates/propose.ts';
import { call } from '../../../data/client.ts';
import { proposeForSample, type SampleAnswer, type SampleRequest, trySample } from './sample.ts';

/** What is asked of the worker, and what it answers to it: the answer or why there is none, and after it what is proposed. */
export interface SampleTask {
  readonly id: number;
  readonly request: SampleRequest;
  /** When each table that steps look values up in was last changed, in milliseconds. */
  readonly tables: Readonly<Record<string, number>>;
}
export interface SampleReport {
  readonly id: number;
  readonly answer?: SampleAnswer;
  readonly proposals?: readonly Proposal[];
  readonly problem?: string;
}

/** Rounds of asking: what one step finds may be what the next one looks up. */
const mostRounds = 4;

/** Proposals are slow: they are computed after a pause of this length without requests (milliseconds). */
const restBeforeProposing = 150;

let latest = 0;
let taughtFrom = '';
let resources = new TaughtResources();

self.addEventListener('message', (event: MessageEvent<SampleTask>) => {
  const { id, request, tables } = event.data;
  latest = id;
  if (JSON.stringify(tables) !== taughtFrom) {
    taughtFrom = JSON.stringify(tables);
    resources = new TaughtResources();
  }
  report(id, request).catch((error: unknown) => {
    self.postMessage({ id, problem: error instanceof Error ? error.message : String(error) } satisfies SampleReport);
  });
});

async function report(id: number, request: SampleRequest): Promise<void> {
  let answer = trySample(request, resources);
  for (let round = 0; round < mostRounds; round++) {
    const open = resources.open();
    const found = open && (await lookUp(open));
    // Another request came meanwhile: this answer is of no use any more.
    if (id !== latest) return;
    if (!found) break;
    resources.learn(found);
    answer = trySample(request, resources);
  }
  self.postMessage({ id, answer } satisfies SampleReport);
  setTimeout(() => {
    if (id !== latest) return;
    self.postMessage({ id, proposals: proposeForSample(request, answer) } satisfies SampleReport);
  }, restBeforeProposing);
}

/** Undefined where the engine is away: the steps then say that they found nothing. */
async function lookUp(lookups: Lookups): Promise<LookupAnswers | undefined> {
  try {
    return await call('lookups', lookups);
  } catch {
    return undefined;
  }
}
