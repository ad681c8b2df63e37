'use client';

import Link from 'next/link';
import { formatCount } from '#core/events/units.ts';
import { type FieldChange, type FieldCount, fieldKinds } from '#core/rehearsal/field-changes.ts';
import type { RehearsedReader } from '#core/rehearsal/reader-finds.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';

/** Saved searches and recent questions that find more or fewer events with the draft. */
export function RehearsedReaders({ rehearsal: { readers } }: { readonly rehearsal: RehearsalAnswer }) {
  if (readers.length === 0) return null;
  return (
    <div>
      <h2>Affected searches</h2>
      <ul aria-label="Affected searches" className="text-[12.5px]">
        {readers.map((reader) => (
          <li key={reader.kind + reader.name} className="flex justify-between gap-3 border-t border-hair py-1">
            <Link href={addressOf(reader)} className="min-w-0 truncate hover:underline" title={reader.name}>
              {reader.kind === 'search' ? reader.name : <code className="line">{reader.name || 'every event'}</code>}
            </Link>
            <span className={`shrink-0 ${reader.draft === 0 ? 'text-danger' : ''}`}>{findsInWords(reader)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function addressOf({ kind, name }: RehearsedReader): string {
  return `/explore?${new URLSearchParams({ c: kind === 'search' ? `saved:${name}` : name })}`;
}

function findsInWords({ live, draft }: RehearsedReader): string {
  if (draft === 0) return `◆ no events; now ${formatCount(live)}`;
  return `${formatCount(live)} → ${formatCount(draft)} events`;
}

/** Fields that the draft adds, loses, or turns into another type. */
export function RehearsedFields({ rehearsal: { fields } }: { readonly rehearsal: RehearsalAnswer }) {
  if (fields.length === 0) return null;
  return (
    <div>
      <h2>Changed fields</h2>
      <ul aria-label="Changed fields" className="text-[12.5px]">
        {fields.map((field) => (
          <li key={field.name} className="flex justify-between gap-3 border-t border-hair py-1">
            <code className="line min-w-0 truncate">{field.name}</code>
            <span className={`shrink-0 ${eventsOf(field.draft) === 0 ? 'text-danger' : ''}`}>
              {changeInWords(field)}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function eventsOf(count: FieldCount): number {
  return fieldKinds.reduce((sum, kind) => sum + count[kind], 0);
}

function kindOf(count: FieldCount): string {
  return [...fieldKinds].sort((a, b) => count[b] - count[a])[0] ?? 'text';
}

function changeInWords({ live, draft }: FieldChange): string {
  const [before, after] = [eventsOf(live), eventsOf(draft)];
  if (before === 0) return `+ new, ${kindOf(draft)}, in ${formatCount(after)} events`;
  if (after === 0) return `◆ lost; now in ${formatCount(before)} events`;
  if (kindOf(live) !== kindOf(draft)) return `${kindOf(live)} → ${kindOf(draft)}`;
  return `${formatCount(before)} → ${formatCount(after)} events`;
}
