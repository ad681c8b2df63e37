'use client';

import { useDeferredValue } from 'react';
import { conditionDoubts } from '#core/conditions/doubts.ts';
import { useNames } from '../data/names.ts';
import { corrected, DoubtList } from '../kit/doubt-list.tsx';

/** What of a condition can hardly be meant: names that nothing has, units that do not exist. Nothing where there is no doubt. */
export function ConditionDoubts(props: {
  readonly text: string;
  /** Whether it is asked within pipelines: which fields events have there is not known in full, and none is doubted. */
  readonly isRaw?: boolean;
  readonly onTake: (text: string) => void;
}) {
  const { text, isRaw = false, onTake } = props;
  const { known } = useNames();
  const rested = useDeferredValue(text);
  const doubts = conditionDoubts(rested, isRaw ? { ...known, fields: undefined } : known);
  if (doubts.length === 0) return null;
  return <DoubtList doubts={doubts} onTake={(doubt) => onTake(corrected(rested, doubt))} />;
}
