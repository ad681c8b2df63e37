'use client';

import { useEffect, useRef, useState } from 'react';
import type { SampleAnswer, SampleRequest } from './sample.ts';
import type { SampleReport, SampleTask } from './sample.worker.ts';

/** Tries a pipeline out on sample lines in a web worker; the answer follows every change of the request and of the tables. */
export function useSample(request: SampleRequest | undefined, tables: SampleTask['tables']): SampleAnswer | undefined {
  const worker = useRef<Worker>(undefined);
  const asked = useRef(0);
  const [answer, setAnswer] = useState<SampleAnswer | undefined>();
  useEffect(() => {
    const made = new Worker(new URL('./sample.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = (event: MessageEvent<SampleReport>) => {
      if (event.data.id === asked.current && event.data.answer) setAnswer(event.data.answer);
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
  return answer;
}
