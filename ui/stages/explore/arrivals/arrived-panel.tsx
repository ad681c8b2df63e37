import Link from 'next/link';
import type { ReactNode } from 'react';
import { equals } from '#core/conditions/write.ts';
import { severityWord } from '#core/events/severity.ts';
import { useDraft } from '../../../data/draft.ts';
import { dayAndMinute, inOtherZone } from '../../../kit/times/times.ts';
import type { FeedLine } from './feed.ts';
import { outcomeInWords } from './outcome-in-words.ts';

/** A line that came in, whole, with where it went and where the like of it is found. */
export function ArrivedPanel({ line }: { readonly line: FeedLine }) {
  const { live: plan } = useDraft();
  const { words, link } = outcomeInWords(line, plan);
  const alike = line.shape === '' ? equals('source', line.source) : `shape = ${line.shape}`;
  const search = (condition: string): string => `/explore?${new URLSearchParams({ c: condition, w: '-1h' })}`;
  return (
    <div className="flex flex-col gap-3">
      <p className="line break-words whitespace-pre-wrap">{line.text}</p>
      <dl className="grid grid-cols-[92px_1fr] gap-x-3 gap-y-1 text-[12.5px]">
        <Fact name="source">
          <Link href={`/sources/${encodeURIComponent(line.source)}`} className="underline hover:text-mark">
            {line.source}
          </Link>
        </Fact>
        {line.emitter !== '' && <Fact name="emitter">{line.emitter}</Fact>}
        <Fact name="severity">{severityWord(line.severity)}</Fact>
        <Fact name="happened">
          <time title={inOtherZone(line.time)}>{dayAndMinute(line.time)}</time>
        </Fact>
        <Fact name="Where it went">
          {link ? (
            <Link href={link} className="underline hover:text-mark">
              {words}
            </Link>
          ) : (
            words
          )}
        </Fact>
      </dl>
      <p className="text-[12.5px]">
        <Link href={search(alike)} className="underline hover:text-mark">
          Similar lines, last hour
        </Link>
        {line.shape !== '' && (
          <>
            {' · '}
            <Link
              href={`/explore?${new URLSearchParams({ view: 'shapes', w: '-1d', shape: line.shape })}`}
              className="underline hover:text-mark"
            >
              Show shape
            </Link>
          </>
        )}
      </p>
    </div>
  );
}

function Fact({ name, children }: { readonly name: string; readonly children: ReactNode }) {
  return (
    <>
      <dt className="text-second">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </>
  );
}
