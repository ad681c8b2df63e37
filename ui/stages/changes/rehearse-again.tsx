'use client';

import { day, hour } from '#core/events/time-units.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import type { RehearsalRun } from '../../parts/use-rehearsal.ts';

const spans = [
  { value: '1h', title: '1 h', time: hour },
  { value: '6h', title: '6 h', time: 6 * hour },
  { value: '24h', title: '24 h', time: day },
  { value: '7d', title: '7 d', time: 7 * day },
  { value: '14d', title: '14 d', time: 14 * day },
] as const;

/** Selects the span of a rehearsal; another span reruns it. */
export function RehearseAgain(props: {
  readonly rehearsal: RehearsalAnswer;
  readonly run: RehearsalRun['run'];
  /** Ends the rehearsal that runs. */
  readonly busy: AbortController | undefined;
}) {
  const { rehearsal, run, busy } = props;
  const { span, from, to } = rehearsal;
  const time = span > 0 ? span * day : to - from;
  const shown = spans.find((one) => Math.abs(one.time - time) < hour / 2)?.value;
  return (
    <div className="mb-3 flex items-center gap-3 text-[12.5px]">
      Traffic of the last
      <Choice<string> label="Span" value={shown ?? ''} options={spans} onChange={(value) => void run(value)} />
      {busy && (
        <Button look="quiet" onClick={() => busy.abort()}>
          Rehearsing … Stop
        </Button>
      )}
    </div>
  );
}
