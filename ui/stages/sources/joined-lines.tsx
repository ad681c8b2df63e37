'use client';

import { useMemo } from 'react';
import type { JoinRule } from '#core/formats/join.ts';
import { noticeJoin } from '#core/formats/notice-join.ts';
import { Button } from '../../kit/button.tsx';

/** Lines of an example that are shown. */
const mostShown = 8;

/** Where lines look like records of several lines: says so, shows one, and offers to join them. Nothing else. */
export function JoinedLines(props: {
  /** In the order in which they were written. */
  readonly lines: readonly string[];
  readonly onJoin: (rule: JoinRule) => void;
  /** What joining them does, such as `Join lines`. */
  readonly action: string;
}) {
  const { lines, onJoin, action } = props;
  const noticed = useMemo(() => noticeJoin(lines), [lines]);
  if (!noticed) return null;
  const shown = noticed.example.split('\n');
  return (
    <div role="note" aria-label="Multi-line records" className="border-y border-hair py-2">
      <p>
        <b className="font-[650]">These look like multi-line records:</b> {noticed.lines} lines make {noticed.records}{' '}
        records{noticed.title === 'stack traces' ? ' with stack traces' : ` that begin with ${noticed.title}`}.
      </p>
      <pre className="line mt-1 max-h-44 overflow-auto whitespace-pre-wrap break-all bg-land/50 p-2">
        {shown.slice(0, mostShown).join('\n')}
        {shown.length > mostShown && `\n… ${shown.length - mostShown} more lines`}
      </pre>
      <Button className="mt-2" onClick={() => onJoin(noticed.rule)}>
        {action}
      </Button>
    </div>
  );
}
