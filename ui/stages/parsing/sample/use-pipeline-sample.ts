'use client';

import { useEffect, useMemo, useState } from 'react';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import type { Proposal } from '#core/templates/propose.ts';
import { useTables } from '../../../data/tables.ts';
import type { SampleAnswer } from './sample.ts';
import { useFailingLines } from './use-failing-lines.ts';
import { useSample } from './use-sample.ts';
import { type TapeSample, useTape } from './use-tape.ts';

/** What a pipeline makes of lines from the tape, of some that failed lately, and of one that is pasted. */
export interface PipelineSample {
  readonly tape: TapeSample;
  readonly answer: SampleAnswer | undefined;
  /** The answer, where there are lines. */
  readonly sample: SampleAnswer | undefined;
  readonly proposals: readonly Proposal[];
  readonly pasted: string;
  readonly paste: (line: string) => void;
  /** The place of the line that is traced through the steps. */
  readonly followed: number;
  readonly follow: (place: number) => void;
  /** Has lines, by their places, stay in the answer whatever they fit. */
  readonly keep: (marked: readonly number[]) => void;
}

/** Tries a pipeline on a sample; `step` is the one that is open, counted from 1. */
export function usePipelineSample(pipeline: PipelineDocument | undefined, id: string, step: number): PipelineSample {
  const [followed, follow] = useState(0);
  const [marked, keep] = useState<readonly number[]>([]);
  const [pasted, setPasted] = useState('');
  const tape = useTape(pipeline?.when ?? '');
  const { source, skip } = tape;
  const failing = useFailingLines(source, `${id}/${step}`);
  const first = pasted === '' ? 0 : 1;
  const lines = useMemo(
    () => [...(pasted === '' ? [] : [pasted]), ...(tape.lines ?? []), ...failing],
    [tape.lines, failing, pasted],
  );
  const request = useMemo(() => {
    const counted = { from: first, to: lines.length - failing.length };
    return pipeline && { source, lines, counted, pipeline, step: step - 1, followed, marked };
  }, [pipeline, lines, first, failing, source, step, followed, marked]);
  const { answer, proposals = [] } = useSample(request, useTables());
  const isAnswered = answer?.source === source && answer.tried === lines.length;
  const noneEnters = tape.lines !== undefined && pasted === '' && isAnswered && answer.entered === 0;
  useEffect(() => {
    if (noneEnters) skip(source);
  }, [noneEnters, skip, source]);
  const paste = (line: string): void => {
    // The places of all lines shift when a pasted one comes or goes, so that marks would be on others.
    if ((line === '') !== (pasted === '')) keep([]);
    setPasted(line);
    follow(0);
  };
  const sample = lines.length > 0 ? answer : undefined;
  return { tape, answer, sample, proposals, pasted, paste, followed, follow, keep };
}
