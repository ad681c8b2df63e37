import { formatBytes } from '#core/events/units.ts';
import { addsAlike } from '#core/plan/parts/postures/rehearse-postures.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';

/** The postures that keep more or less with the draft than now while they are on. */
export function RehearsedPostures({ rehearsal: { postures = [] } }: { readonly rehearsal: RehearsalAnswer }) {
  const changed = postures.filter((posture) => !addsAlike(posture));
  if (changed.length === 0) return null;
  return (
    <div>
      <h2>Postures</h2>
      <ul aria-label="Postures" className="text-[12.5px]">
        {changed.map(({ id, title, live, draft }) => (
          <li key={id} className="border-t border-hair py-1">
            <span className="font-semibold">{title}</span>{' '}
            <span className="text-second">
              would add {formatBytes(live?.bytes ?? 0)} → <b className="text-ink">{formatBytes(draft?.bytes ?? 0)}</b>{' '}
              an hour
            </span>
            {draft?.bytes === 0 && <span className="block text-caution">▲ It would keep nothing more.</span>}
          </li>
        ))}
      </ul>
    </div>
  );
}
