import { expect, test } from 'vitest';
import { batchOf } from '../testing/batch-of.ts';
import { addKnownFields, type KnownField } from './field-kinds.ts';
import { decodeHeader } from './header.ts';
import { encodeSegment } from './segment.ts';

/** The fields that the events of some segments have. */
function fieldsOf(...segments: readonly (readonly Record<string, unknown>[])[]): ReadonlyMap<string, KnownField> {
  const fields = new Map<string, KnownField>();
  for (const events of segments) addKnownFields(fields, decodeHeader(encodeSegment(batchOf(events), 'columns').header));
  return fields;
}

test('a field is whole if all its numbers are integers in every segment, and its range spans all segments', () => {
  const fields = fieldsOf([{ berth: 3, depth: 4 }, { berth: -1 }], [{ berth: 7, depth: 4.5 }, { lane: 2 ** 60 }]);
  expect(fields.get('berth')).toEqual({ kind: 'number', events: 3, whole: { low: -1, high: 7 } });
  expect(fields.get('depth')).toEqual({ kind: 'number', events: 2, whole: undefined });
  expect(fields.get('lane')).toEqual({ kind: 'number', events: 1, whole: undefined });
});

test('a field with values of two kinds is mixed', () => {
  expect(fieldsOf([{ berth: 3 }], [{ berth: 'north' }]).get('berth')).toEqual({ kind: 'mixed', events: 2 });
});
