'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import { formatBytes } from '#core/events/units.ts';
import { type ExclusionDocument, isSampleSize, keptOneIn } from '#core/plan/document.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { FaultText } from '../../kit/text-field.tsx';
import { sampleSizeFault } from './tier-form.ts';

interface Bytes {
  readonly bytes: number;
}

type Mode = 'none' | 'sample' | 'all';

/** An exclusion in one line: keep none, 1 in n, or all, and what it takes away. `onChange` with undefined takes it out. */
export function ExclusionRow(props: {
  readonly exclusion: ExclusionDocument;
  /** What it took away in the last day; undefined where the live plan has no such rule, or another one of its name. */
  readonly removed: Bytes | undefined;
  /** What it would take away in a day, where that was rehearsed. */
  readonly rehearsed: Bytes | undefined;
  readonly onChange: (exclusion: ExclusionDocument | undefined) => void;
  readonly onEdit: () => void;
}) {
  const { exclusion } = props;
  const oneIn = keptOneIn(exclusion.keep) ?? 1;
  const [n, setN] = useState(oneIn > 1 ? oneIn : 10);
  const mode: Mode = oneIn === 0 ? 'none' : oneIn === 1 ? 'all' : 'sample';
  const set = (next: Mode, count = n): void =>
    props.onChange({ ...exclusion, keep: next === 'sample' ? `1 in ${count}` : next });
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3 text-[12.5px]">
      <span className="text-second">keep</span>
      <Choice
        marked
        label={`How much of ${exclusion.title} to keep`}
        value={mode}
        onChange={(next) => set(next)}
        options={[
          { value: 'none', title: 'none' },
          { value: 'sample', title: mode === 'sample' ? `1 in ${oneIn}` : '1 in n' },
          { value: 'all', title: 'all' },
        ]}
      />
      {mode === 'sample' && (
        <label>
          n{' '}
          <input
            type="number"
            min={2}
            aria-invalid={!isSampleSize(n)}
            value={n}
            onChange={(event) => {
              const next = Number(event.target.value);
              setN(next);
              if (isSampleSize(next)) set('sample', next);
            }}
            className="w-20 rounded border border-hair bg-sheet px-1"
          />
        </label>
      )}
      {mode === 'sample' && !isSampleSize(n) && <FaultText text={`${sampleSizeFault} 1 in ${oneIn} stands.`} />}
      <span className="text-second">of</span>
      <b className="font-[650]">{exclusion.title}</b>
      <code className="line truncate text-second">{exclusion.when}</code>
      {exclusion.by && <span className="text-second">together by {exclusion.by}</span>}
      <span className={mode === 'all' ? 'text-second' : ''}>
        {mode === 'all' ? 'the rule rests' : effectOf(props.removed, props.rehearsed)}
      </span>
      <Button
        look="quiet"
        className="px-1! py-0! text-[12.5px]"
        aria-label={`Edit ${exclusion.title}`}
        onClick={props.onEdit}
      >
        Edit
      </Button>
      <button
        type="button"
        onClick={() => props.onChange(undefined)}
        aria-label={`Take out ${exclusion.title}`}
        className="text-second hover:text-danger"
      >
        <X size={14} aria-hidden="true" />
      </button>
    </div>
  );
}

function effectOf(removed: Bytes | undefined, rehearsed: Bytes | undefined): string {
  if (removed) return `− ${formatBytes(removed.bytes)} a day`;
  return rehearsed ? `− ${formatBytes(rehearsed.bytes)} a day, as rehearsed` : 'rehearse to see what it takes away';
}
