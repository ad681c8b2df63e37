'use client';

import { parseAsString, useQueryStates } from 'nuqs';
import { useEffect, useState } from 'react';
import { parseWindow } from '#core/conditions/times.ts';
import { useQuestion } from '../../../data/client.ts';
import type { Explored } from '../use-explore.ts';

/** How a figure changed and what accounts for it, as the address asks: the measure, and the window it is compared with. */
export function useWhy({ condition, window, view, run }: Pick<Explored, 'condition' | 'window' | 'view' | 'run'>) {
  const [{ measure, than }, choose] = useQueryStates({
    measure: parseAsString.withDefault('events'),
    than: parseAsString.withDefault(''),
  });
  // Which row the panel is about, and whether it is open.
  const [chosen, setChosen] = useState(0);
  const [isOpen, setOpen] = useState(true);
  const now = Date.now();
  const [from = '', to = ''] = endsOf(window);
  const [besideFrom, besideTo] = than === '' ? [] : endsOf(than);
  const isWindow = parseWindow(window, now) !== undefined;
  const isThan = than === '' || parseWindow(than, now) !== undefined;
  const question = { condition, measure, from, to, besideFrom, besideTo };
  const isShown = view === 'why' && isWindow && isThan;
  const { data, error, isLoading, isValidating, mutate } = useQuestion('why', isShown ? question : null);
  useEffect(() => {
    // The same question asked again is about another present.
    if (run > 0) void mutate();
  }, [run, mutate]);
  return {
    measure,
    than,
    isWindow,
    isThan,
    // The answer to another question says nothing about this one.
    answer: error || isLoading ? undefined : data,
    error,
    /** Whether what is shown is not yet what was asked for. */
    isAsking: isValidating,
    chosen: Math.min(chosen, Math.max(0, (data?.rows.length ?? 0) - 1)),
    isOpen,
    setOpen,
    choose: (place: number): void => {
      setChosen(place);
      setOpen(true);
    },
    setMeasure: (text: string): void => void choose({ measure: text.trim() === '' ? null : text.trim() }),
    setThan: (text: string): void => void choose({ than: text.trim() === '' ? null : text.trim() }),
  };
}

export type Why = ReturnType<typeof useWhy>;

/** The ends of a window as it is written; one that has no end goes up to now. */
function endsOf(window: string): readonly string[] {
  const [from = '', to = ''] = window.split('..');
  return [from, to === '' ? 'now' : to];
}
