import { formatCount } from '#core/events/units.ts';
import { labelInWords } from '#core/metrics/labels.ts';
import { describeRanking } from '#core/plan/parts/rankings/ranking.ts';
import { isRankedAlike, type RehearsedContributors } from '#core/plan/parts/rankings/rehearse-rankings.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { amountInWords, shareInWords } from './amount-in-words.ts';

/** The rankings that a draft changes, and by how much. */
export function RehearsedRankings({ rehearsal: { rankings = [] } }: { readonly rehearsal: RehearsalAnswer }) {
  const changed = rankings.filter((ranking) => !isRankedAlike(ranking));
  if (changed.length === 0) return null;
  return (
    <div>
      <h2>Talkers</h2>
      <ul className="text-[12.5px]">
        {changed.map(({ id, title, live, draft }) => (
          <li key={id} className="border-t border-hair py-1">
            <span className="font-semibold">{title}</span>{' '}
            <span className="text-second">
              {describeRanking((draft ?? live) as RehearsedContributors)}: {contributorsInWords(live)} →{' '}
              <b className="text-ink">{contributorsInWords(draft)}</b>
            </span>
            {draft?.total === 0 && (
              <span className="block text-caution">▲ No events would match{live ? ' any more' : ''}.</span>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

function contributorsInWords(contributors: RehearsedContributors | null): string {
  if (!contributors) return 'not there';
  const { total, distinct, first, by } = contributors;
  const all = `${amountInWords(total, contributors)} by ${formatCount(distinct)}`;
  // The id of a shape says nothing to a reader.
  if (!first || by.includes('shape')) return all;
  return `${all}; ${first.labels.map(labelInWords).join(' · ')} ${shareInWords(first.amount / total)}`;
}
