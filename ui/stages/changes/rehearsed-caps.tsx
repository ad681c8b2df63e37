import { formatBytes, formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { CapMeeting, CapMeetings } from '#core/rehearsal/cap-meetings.ts';

/** When the draft would meet its caps on a day like the rehearsed ones, next to the live plan where that differs. */
export function RehearsedCaps(props: {
  readonly caps: CapMeetings;
  readonly draft: PlanDocument;
  /** What the list is called. */
  readonly title: string;
}) {
  const { caps, draft, title } = props;
  if (caps.draft.length === 0) return null;
  return (
    <div>
      <h2>{title}</h2>
      <ul aria-label={title} className="text-[12.5px]">
        {caps.draft.map((cap) => {
          const before = caps.live.find(({ tier }) => tier === cap.tier);
          return (
            <li key={cap.tier} className="border-t border-hair py-1">
              <b className="font-[650]">{draft.tiers.find(({ id }) => id === cap.tier)?.title ?? cap.tier}</b>:{' '}
              {amountOf(cap, cap.wanted)} of {amountOf(cap, cap.amount)} a day,{' '}
              <span className={cap.meets === null ? '' : 'text-caution'}>{meetingInWords(cap)}</span>
              {before && before.meets !== cap.meets && ` (now ${meetingInWords(before)})`}
            </li>
          );
        })}
      </ul>
    </div>
  );
}

function amountOf({ unit }: CapMeeting, amount: number): string {
  return unit === 'bytes' ? formatBytes(amount) : `${formatCount(amount)} events`;
}

function meetingInWords({ meets }: CapMeeting): string {
  if (meets === null) return 'not met';
  const minutes = Math.round(meets / 60_000);
  return `▲ met at about ${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}
