'use client';

import Link from 'next/link';
import type { RevisionsAnswer, RevisionView } from '#core/answers/plan.ts';
import { formatBytes } from '#core/events/units.ts';
import { useApi } from '../../data/use-api.ts';
import { Section } from '../../kit/section.tsx';
import { ago, percent } from '../../kit/times.ts';

/** What the last published change was predicted to do, beside what is measured since. */
export function LastPublished() {
  const { data } = useApi<RevisionsAnswer>('/api/plan/revisions', 5_000);
  const [latest] = data?.revisions ?? [];
  if (!latest || latest.number < 2) return null;
  return (
    <Section title={`Revision ${latest.number} · published ${ago(latest.publishedAt)}`} className="mt-5">
      <p className="border-t border-hair pt-2">
        <Link href="/changes" className="hover:underline">
          {latest.note}
        </Link>
      </p>
      <PredictedAndMeasured revision={latest} />
    </Section>
  );
}

/** Predicted beside measured, as far as there is either. */
export function PredictedAndMeasured({ revision }: { readonly revision: RevisionView }) {
  const { predicted, measured } = revision;
  if (!predicted && !measured) return <p className="text-second">Measured from its first whole minute on.</p>;
  return (
    <table className="mt-1 w-full text-[12.5px]" aria-label="Predicted and measured">
      <thead>
        <tr>
          <th scope="col" />
          <th scope="col" className="text-right">
            before
          </th>
          <th scope="col" className="text-right">
            predicted
          </th>
          <th scope="col" className="text-right">
            measured
          </th>
        </tr>
      </thead>
      <tbody>
        <tr className="border-t border-hair">
          <th scope="row">parsed</th>
          <td className="text-right">{predicted ? percent(predicted.parsed.live) : '–'}</td>
          <td className="text-right">{predicted ? percent(predicted.parsed.draft) : '–'}</td>
          <td className="text-right font-semibold">{measured ? percent(measured.parsedShare) : 'soon'}</td>
        </tr>
        <tr className="border-t border-hair">
          <th scope="row">kept a day</th>
          <td className="text-right">{predicted ? formatBytes(predicted.kept.live.bytes) : '–'}</td>
          <td className="text-right">{predicted ? formatBytes(predicted.kept.draft.bytes) : '–'}</td>
          <td className="text-right font-semibold">{measured ? `≈ ${formatBytes(measured.kept.bytes)}` : 'soon'}</td>
        </tr>
        <tr className="border-y border-hair">
          <th scope="row">share kept</th>
          <td className="text-right">
            {predicted ? percent(share(predicted.kept.live.bytes, predicted.arrived?.bytes)) : '–'}
          </td>
          <td className="text-right">
            {predicted ? percent(share(predicted.kept.draft.bytes, predicted.arrived?.bytes)) : '–'}
          </td>
          <td className="text-right font-semibold">
            {measured ? percent(share(measured.kept.bytes, measured.arrived.bytes)) : 'soon'}
          </td>
        </tr>
      </tbody>
    </table>
  );
}

function share(part: number, whole: number | undefined): number {
  return whole ? part / whole : 0;
}
