import type { PlanChange } from '#core/plan/plan-change.ts';

/** Signs that tell additions, removals, changes and moves apart. */
export const glyphs: Readonly<Record<PlanChange['kind'], string>> = {
  added: '+',
  removed: '−',
  changed: '~',
  moved: '↕',
};

/** What a draft changes, with texts before and after. */
export function ChangeList({ changes }: { readonly changes: readonly PlanChange[] }) {
  return (
    <ul className="border-b border-hair">
      {changes.map((change) => (
        <li key={change.path + change.text} className="grid grid-cols-[20px_1fr] border-t border-hair py-1.5">
          <span aria-hidden="true" className="text-mark">
            {glyphs[change.kind]}
          </span>
          <span className="min-w-0">
            {change.text}
            {change.before !== undefined && (
              <span className="line mt-0.5 block whitespace-pre-wrap break-all">
                <span className="text-second line-through">{change.before || 'every event'}</span>
                <br />
                <span>{change.after || 'every event'}</span>
              </span>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}
