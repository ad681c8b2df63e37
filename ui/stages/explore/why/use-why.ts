'use client';

import { parseAsString, useQueryStates } from 'nuqs';
import { useEffect, useRef, useState } from 'react';
import { parseWindow } from '#core/conditions/times.ts';
import { useFollowedQuestion } from '../../../data/followed-question.ts';
import type { Explored } from '../use-explore.ts';

/** The explanation of a change. The address holds the measure and, optionally, the window to compare with. */
export function useWhy({ condition, window, view, run }: Pick<Explored, 'condition' | 'window' | 'view' | 'run'>) {
  const [{ measure, besideWindow: beside }, choose] = useQueryStates({
    measure: parseAsString.withDefault('events'),
    besideWindow: parseAsString.withDefault(''),
  });
  // Which row the panel is about, and whether it is open.
  const [chosen, setChosen] = useState(0);
  const [isOpen, setOpen] = useState(true);
  const now = Date.now();
  const [from = '', to = ''] = endsOf(window);
  const [besideFrom, besideTo] = beside === '' ? [] : endsOf(beside);
  const isWindow = parseWindow(window, now) !== undefined;
  const isBeside = beside === '' || parseWindow(beside, now) !== undefined;
  const question = { condition, measure, from, to, besideFrom, besideTo };
  const isShown = view === 'why' && isWindow && isBeside;
  const { answer, error, isAsking, askAgain } = useFollowedQuestion('why', isShown ? question : null);
  const last = useRef(run);
  useEffect(() => {
    // Asked again, relative windows refer to the new present.
    if (run !== last.current) askAgain();
    last.current = run;
  }, [run, askAgain]);
  return {
    measure,
    beside,
    isWindow,
    isBeside,
    answer,
    error,
    /** Whether a better answer is on its way. */
    isAsking,
    chosen: Math.min(chosen, Math.max(0, (answer?.rows.length ?? 0) - 1)),
    isOpen,
    setOpen,
    choose: (place: number): void => {
      setChosen(place);
      setOpen(true);
    },
    setMeasure: (text: string): void => void choose({ measure: text.trim() === '' ? null : text.trim() }),
    setBeside: (text: string): void => void choose({ besideWindow: text.trim() === '' ? null : text.trim() }),
  };
}

export type Why = ReturnType<typeof useWhy>;

/** Both ends of a written window; without an end it goes up to now. */
function endsOf(window: string): readonly string[] {
  const [from = '', to = ''] = window.split('..');
  return [from, to === '' ? 'now' : to];
}
