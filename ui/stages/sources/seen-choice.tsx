'use client';

import { useQueryState } from 'nuqs';
import { useState } from 'react';
import { formatDuration, parseDuration } from '#core/events/units.ts';
import { Choice } from '../../kit/choice.tsx';
import { TextField } from '../../kit/text-field.tsx';

/** Spans of time that are chosen by typing: in which something was first seen, and for which it was not seen. */
export interface SeenSpans {
  /** In milliseconds. */
  readonly fresh: number;
  readonly gone: number;
}

/** Kinds of a choice that are about a span. */
export type SeenKind = 'fresh' | 'gone';

const usual = { fresh: '4h', gone: '24h' } as const;
const labels = { fresh: 'First seen within', gone: 'Not seen for' } as const;

/** The spans, as the address has them: a day and four hours where it has none, or what it has is no span. */
export function useSeenSpans(): SeenSpans {
  const [fresh] = useQueryState('within', { defaultValue: usual.fresh });
  const [gone] = useQueryState('unseen', { defaultValue: usual.gone });
  return { fresh: spanOf(fresh) ?? 4 * 3_600_000, gone: spanOf(gone) ?? 24 * 3_600_000 };
}

function spanOf(text: string): number | undefined {
  const span = parseDuration(text);
  return span !== undefined && span > 0 ? span : undefined;
}

/** A span in words, for a choice that is about it. */
export function spanInWords(span: number): string {
  return formatDuration(span / 1_000);
}

/** A choice of what a list shows, with a field for the span where the one chosen is about one. */
export function SeenChoice<T extends string>(props: {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly title: string }[];
  readonly onChange: (value: T) => void;
}) {
  const { value } = props;
  return (
    <span className="inline-flex flex-wrap items-center gap-2">
      <Choice {...props} />
      {isSeenKind(value) && <SpanField key={value} kind={value} />}
    </span>
  );
}

function isSeenKind(value: string): value is SeenKind {
  return value === 'fresh' || value === 'gone';
}

function SpanField({ kind }: { readonly kind: SeenKind }) {
  const [span, setSpan] = useQueryState(kind === 'fresh' ? 'within' : 'unseen', { defaultValue: usual[kind] });
  const [text, setText] = useState(span);
  const isWrong = spanOf(text) === undefined;
  const take = (next: string): void => {
    setText(next);
    if (spanOf(next) !== undefined) void setSpan(next);
  };
  return (
    <TextField
      label={labels[kind]}
      isLabelHidden
      mono
      className="w-40"
      fault={isWrong ? 'a duration such as 30m or 3d' : ''}
      value={text}
      onChange={({ target }) => take(target.value)}
    />
  );
}
