'use client';

import { toast } from 'sonner';
import type { WhyAnswer, WhyRow } from '../../../data/answers.ts';
import { Button } from '../../../kit/button.tsx';
import { Section } from '../../../kit/section.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';
import { ExcludeEvents } from '../../../parts/tiers/exclude-events.tsx';
import { figureInWords, ratioInWords, shareInWords, whereInWords } from './in-words.ts';

/** Actions for a cause. */
export function WhyPanel(props: {
  readonly row: WhyRow;
  readonly answer: WhyAnswer;
  readonly subject: string;
  readonly onLines: (condition: string, since: number) => void;
}) {
  const { row, answer, subject, onLines } = props;
  const message = messageOf(row, answer, subject);
  const copy = async (): Promise<void> => {
    try {
      await navigator.clipboard.writeText(`${message}\n${globalThis.location.href}`);
      toast('Message and link copied.');
    } catch {
      toast.error('The browser blocked copying. Select the message and copy it yourself.');
    }
  };
  return (
    <>
      <Section title="Keep fewer of these events" className="border-b border-hair pb-4">
        <p className="mb-2.5 text-[12.5px] text-second">
          An exclusion keeps none, 1 in n, or whole journeys by a key. Before you add it to the draft, it shows the
          saving and who reads these events.
        </p>
        <ExcludeEvents
          name={whereInWords(row)}
          condition={row.condition}
          className="font-semibold text-mark hover:underline"
        >
          Exclude
        </ExcludeEvents>
      </Section>
      <Section title="Inspect the events" className="border-b border-hair py-4">
        <Button
          look="quiet"
          className="-ml-3"
          onClick={() => onLines(row.condition, answer.began ?? answer.times.since.from)}
        >
          Show lines
        </Button>
      </Section>
      <Section title="Ask the owner" className="border-b border-hair py-4">
        <p className="text-[12.5px]">“{message}”</p>
        <Button look="quiet" className="mt-1 -ml-3" onClick={() => void copy()}>
          Copy message and link
        </Button>
      </Section>
      <p className="pt-4 text-[12.5px] text-second">
        Causes are ranked by how much more of the change they explain than their part of all events. The events of each
        cause are removed before the next search, so none counts twice.
      </p>
    </>
  );
}

/** A message to the owner of the events. */
function messageOf(row: WhyRow, answer: WhyAnswer, subject: string): string {
  const { began } = answer;
  const since = began === undefined ? '' : `Since ${dayAndMinute(began)} `;
  const factor = row.ratio === null ? '' : `, ${ratioInWords(row.ratio)} what it was`;
  return `${since}${whereInWords(row)} in ${subject}: ${figureInWords(row.before, answer)} became ${figureInWords(row.since, answer)}${factor}. It explains ${shareInWords(row)} of the change.`;
}
