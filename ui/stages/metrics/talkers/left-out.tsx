import { X } from 'lucide-react';
import type { RankingAnswer } from '../../../data/answers.ts';
import { amountInWords } from '../../../parts/rankings/amount-in-words.ts';

/** Who is left out, each of whom can be taken back. */
export function LeftOut({ data, onBack }: { readonly data: RankingAnswer; readonly onBack: (place: number) => void }) {
  const { without, leftOut } = data;
  if (without.length === 0) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-1.5 text-[12.5px] text-second">
      <span>Left out, {leftOut > 0 ? `${amountInWords(leftOut, data)} in all` : 'with no events here'}:</span>
      {without.map((labels, i) => {
        const name = labels.map((value, k) => value ?? `(no ${data.by[k]})`).join(' · ');
        return (
          <span
            key={name}
            className="inline-flex max-w-[340px] items-center gap-1 rounded-[5px] border border-hair bg-sheet px-1.5"
          >
            <span className="line truncate">{name}</span>
            <button type="button" aria-label={`Take ${name} back`} onClick={() => onBack(i)} className="hover:text-ink">
              <X size={13} aria-hidden="true" />
            </button>
          </span>
        );
      })}
    </p>
  );
}
