import type { Doubt } from '#core/conditions/doubts.ts';

/** What is valid and can hardly be meant, each with what may be meant instead, to be taken by a click. */
export function DoubtList<One extends Doubt>(props: {
  readonly doubts: readonly One[];
  readonly onTake: (doubt: One) => void;
  /** Said after a doubt, such as where it is. */
  readonly remark?: (doubt: One) => string;
}) {
  const { doubts, onTake, remark } = props;
  return (
    <ul aria-label="Doubts" className="mt-1.5 text-[13px] text-caution">
      {doubts.map((doubt) => (
        <li key={`${doubt.start} ${doubt.message}`}>
          {`${doubt.message.charAt(0).toUpperCase()}${doubt.message.slice(1)}`}
          {remark?.(doubt)}
          {doubt.suggestion ? (
            <>
              ; did you mean{' '}
              <button
                type="button"
                className="min-h-6 font-[650] underline hover:text-mark"
                onClick={() => onTake(doubt)}
              >
                {doubt.suggestion}
              </button>
              ?
            </>
          ) : (
            '.'
          )}
        </li>
      ))}
    </ul>
  );
}

/** A text with what a doubt suggests in the place of what is doubted. */
export function corrected(text: string, { start, end, suggestion = '' }: Doubt): string {
  return text.slice(0, start) + suggestion + text.slice(end);
}
