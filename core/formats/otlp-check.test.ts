import { describe, expect, test } from 'vitest';
import { checkOtlp } from './otlp-check.ts';

const within = (record: unknown): unknown => ({ resourceLogs: [{}, { scopeLogs: [{ logRecords: [{}, record] }] }] });

describe('a request is right', () => {
  test.each([
    {},
    { resourceLogs: [] },
    { resourceLogs: [{ resource: null, scopeLogs: [{ scope: null }] }] },
    {
      resourceLogs: [{ resource: { attributes: [{ key: 'a', value: null }] }, scopeLogs: [{ scope: { name: 's' } }] }],
    },
    within({ timeUnixNano: '17', severityNumber: 9, attributes: [{ key: '', value: { intValue: '1' } }] }),
    within({ timeUnixNano: 17, body: { stringValue: 'x' }, unknown: [1] }),
  ])('%j', (request) => expect(checkOtlp(request)).toBe(request));
});

describe('what is wrong is reported with its path', () => {
  test.each([
    [4, /^this/],
    [{ resourceLogs: 4 }, /^resourceLogs must be a `array`/],
    [{ resourceLogs: [7] }, /^resourceLogs\[0\] must be a `object`/],
    [{ resourceLogs: [null] }, /^resourceLogs\[0\] cannot be null/],
    [
      { resourceLogs: [{ resource: { attributes: {} } }] },
      /^resourceLogs\[0\]\.resource\.attributes must be a `array`/,
    ],
    [
      { resourceLogs: [{ scopeLogs: [{ scope: { name: 1 } }] }] },
      /^resourceLogs\[0\]\.scopeLogs\[0\]\.scope\.name must be a `string`/,
    ],
    [
      within({ severityNumber: 'high' }),
      /^resourceLogs\[1\]\.scopeLogs\[0\]\.logRecords\[1\]\.severityNumber must be a `number`/,
    ],
    [within({ attributes: [{ key: 1 }] }), /logRecords\[1\]\.attributes\[0\]\.key must be a `string`/],
    [within({ attributes: [{}] }), /logRecords\[1\]\.attributes\[0\]\.key must be defined/],
    [within({ timeUnixNano: true }), /logRecords\[1\]\.timeUnixNano must be a `string`/],
    [within('text'), /logRecords\[1\] must be a `object`/],
  ])('%j', (request, said) => expect(() => checkOtlp(request)).toThrow(said));
});
