'use client';

import { useEffect, useRef, useState } from 'react';
import type { SampleAnswer, SampleRequest } from './sample.ts';

/** Tries a pipeline out on sample lines in a web worker; the answer follows every change of the request. */
export function useSample(request: SampleRequest | undefined): SampleAnswer | undefined {
  const worker = useRef<Worker>(undefined);
  const asked = useRef(0);
  const [answer, setAnswer] = useState<SampleAnswer | undefined>();
  useEffect(() => {
    const made = new Worker(new URL('./sample.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = (event: MessageEvent<{ readonly id: number; readonly answer?: SampleAnswer }>) => {
      if (event.data.id === asked.current && event.data.answer) setAnswer(event.data.answer);
    };
    worker.current = made;
    return () => made.terminate();
  }, []);
  const text = request && JSON.stringify(request);
  useEffect(() => {
    if (text === undefined) return;
    asked.current++;
    worker.current?.postMessage({ id: asked.current, request: JSON.parse(text) });
  }, [text]);
  return answer;
}
