'use client';

import { useEffect, useRef, useState } from 'react';
import type { Proposal } from '#core/templates/propose.ts';
import type { SampleAnswer, SampleRequest } from './sample.ts';
import type { SampleReport, SampleTask } from './sample.worker.ts';

/** What was found out about sample lines, and ways to read those that do not fit; both undefined until the first ones are there. */
export interface TriedSample {
  readonly answer: SampleAnswer | undefined;
  readonly proposals: readonly Proposal[] | undefined;
}

/** Tries a pipeline out on sample lines in a web worker; the answer follows every change of the request and of the tables. */
export function useSample(request: SampleRequest | undefined, tables: SampleTask['tables']): TriedSample {
  const worker = useRef<Worker>(undefined);
  const asked = useRef(0);
  const [answer, setAnswer] = useState<SampleAnswer | undefined>();
  const [proposals, setProposals] = useState<readonly Proposal[] | undefined>();
  useEffect(() => {
    const made = new Worker(new URL('./sample.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = (event: MessageEvent<SampleReport>) => {
      if (event.data.id !== asked.current) return;
      if (event.data.answer) setAnswer(event.data.answer);
      if (event.data.proposals) setProposals(event.data.proposals);
    };
    worker.current = made;
    return () => made.terminate();
  }, []);
  const text = request && JSON.stringify(request);
  useEffect(() => {
    if (text === undefined) return;
    asked.current++;
    const task: SampleTask = { id: asked.current, request: JSON.parse(text), tables };
    worker.current?.postMessage(task);
  }, [text, tables]);
  return { answer, proposals };
}
