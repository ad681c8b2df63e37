import fc from 'fast-check';
import { expect, test } from 'vitest';
import { decode, encode } from '../events/text-table.ts';
import { cutFrames } from './syslog-frames.ts';

function texts(bytes: Uint8Array): string[] {
  return (cutFrames(bytes)?.messages ?? []).map((message) => decode(message, 0, message.length));
}

test('octet counting and line feeds may take turns (RFC 6587)', () => {
  expect(texts(encode('5 <1>ab<2>cd\n<3>ef\r\n4 <4>x'))).toEqual(['<1>ab', '<2>cd', '<3>ef', '<4>x']);
});

test('wherever the stream is cut, the same messages come out', () => {
  const message = fc
    .string({ unit: fc.constantFrom(...'<1>ab c'), minLength: 1, maxLength: 12 })
    .map((text) => `<${text}`);
  fc.assert(
    fc.property(fc.array(message, { minLength: 1, maxLength: 8 }), fc.nat(), (messages, at) => {
      const bytes = encode(messages.map((text) => `${text.length} ${text}`).join(''));
      const place = at % (bytes.length + 1);
      const first = cutFrames(bytes.subarray(0, place));
      if (!first) throw new Error('refused');
      const rest = new Uint8Array([...first.rest, ...bytes.subarray(place)]);
      expect([...first.messages.map((one) => decode(one, 0, one.length)), ...texts(rest)]).toEqual(messages);
    }),
  );
});

test('an absurd length ends the connection', () => {
  expect(cutFrames(encode('99999999999 x'))).toBeUndefined();
});
