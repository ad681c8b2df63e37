'use client';

import { useEffect, useState } from 'react';
import { compileCondition } from '#core/conditions/condition.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { MatchesAnswer } from '../../data/answers.ts';
import { call } from '../../data/client.ts';
import { counted } from '../../kit/counted.ts';
import { percent } from '../../kit/times/times.ts';

const noneBefore: readonly { readonly title: string; readonly when: string }[] = [];

/** How long typing rests before it is asked, in milliseconds. */
const restTime = 200;

/** While a condition is typed: how much of the last day it matches of what comes as far as it, and five lines. */
export function Matches(props: {
  readonly condition: string;
  /** The tier that it belongs to; undefined for one that is new. */
  readonly tier: string | undefined;
  /** Whether it is an exclusion's, which is asked about what its tier takes. */
  readonly within: boolean;
  /** What is asked before it: exclusions above, by their titles and conditions. */
  readonly before?: readonly { readonly title: string; readonly when: string }[];
}) {
  const { condition, tier, within, before = noneBefore } = props;
  const conditions = JSON.stringify(before.map(({ when }) => when).filter((when) => compileCondition(when).ok));
  const [found, setFound] = useState<MatchesAnswer | undefined>();
  const [failed, setFailed] = useState('');
  const isRight = compileCondition(condition).ok;
  useEffect(() => {
    if (!isRight) return;
    const abort = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const given = { condition, within, before: JSON.parse(conditions), tier };
        setFound(await call('matches', given, { signal: abort.signal }));
        setFailed('');
      } catch (error) {
        if (!abort.signal.aborted) setFailed(error instanceof Error ? error.message : 'Matches could not be counted.');
      }
    }, restTime);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [condition, tier, within, isRight, conditions]);
  if (failed !== '') return <p className="text-[12.5px] text-second">{failed}</p>;
  if (!found || !isRight) return <p className="h-[18px]" />;
  const { of, matched, covered, lines, readers } = found;
  const coveredShare = matched.events > 0 ? covered.events / matched.events : 0;
  return (
    <div role="status" aria-label="Matching events" className="text-[12.5px] text-second">
      <p>
        <b className="font-[650] text-ink">
          ≈ {formatCount(matched.events)} events, {formatBytes(matched.bytes)}
        </b>{' '}
        of the last day: {percent(of.bytes > 0 ? matched.bytes / of.bytes : 0)} of what{' '}
        {within ? 'the tier takes' : 'comes this far'}
      </p>
      {within && matched.events === 0 && (
        <p className="text-caution">▲ No event that the tier took in the last 24 h matches.</p>
      )}
      {coveredShare > 0.005 && (
        <p className="text-caution">
          ▲ {coveredShare > 0.995 ? 'All of it is' : `${percent(coveredShare)} of it is`} taken by exclusions above:{' '}
          {before.map(({ title }) => `“${title}”`).join(', ')}
        </p>
      )}
      {readers
        .filter(({ kind }) => kind === 'search')
        .map(({ name, share }) => (
          <p key={name}>
            ▲ The saved search “{name}” reads {percent(share)} of it.
          </p>
        ))}
      <Questions readers={readers} />
      <ul className="mt-0.5">
        {lines.map((line) => (
          <li key={`${line.time} ${line.body}`} className="line truncate" title={line.body}>
            {line.source} · {line.body}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The questions of the last 30 days that read some of it. */
function Questions({ readers }: Pick<MatchesAnswer, 'readers'>) {
  const [first, ...more] = readers.filter(({ kind }) => kind === 'question').sort((a, b) => b.share - a.share);
  if (!first) return null;
  return (
    <p>
      ▲ {first.name === '' ? 'An export of everything' : <>The question “{first.name}”</>} of the last 30 days reads{' '}
      {percent(first.share)} of it{more.length > 0 && `, ${counted(more.length, 'other question')} some of it`}.
    </p>
  );
}
