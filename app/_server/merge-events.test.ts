import { expect, test } from 'vitest';
import { mergeEvents } from './merge-events.ts';

const encoder = new TextEncoder();

/** A stream that gives some pieces, counts how many were asked for, and ends or fails. */
function streamOf(pieces: readonly string[], end: 'ends' | 'fails' = 'ends') {
  const asked = { count: 0, cancelled: false };
  const stream = new ReadableStream<Uint8Array>(
    {
      pull: (controller) => {
        const piece = pieces[asked.count++];
        if (piece !== undefined) controller.enqueue(encoder.encode(piece));
        else if (end === 'fails') controller.error(new Error('gone'));
        else controller.close();
      },
      cancel: () => {
        asked.cancelled = true;
      },
    },
    { highWaterMark: 0 },
  );
  return { asked, stream };
}

test('events of several streams come whole, and one stream that fails takes nothing with it', async () => {
  const one = streamOf(['data: a\n\ndata: b', 'c\n\n', 'data: ', 'd\n\n']);
  const other = streamOf(['data: 1\n\n'], 'fails');
  const text = await new Response(mergeEvents([one.stream, other.stream])).text();
  expect(text.split('\n\n').sort()).toEqual(['', 'data: 1', 'data: a', 'data: bc', 'data: d']);
});

test('nothing is read ahead of whoever takes it, and who leaves ends the streams', async () => {
  const many = streamOf(Array.from({ length: 1_000 }, (_, n) => `data: ${n}\n\n`));
  const reader = mergeEvents([many.stream]).getReader();
  for (let i = 0; i < 5; i++) await reader.read();
  expect(many.asked.count).toBeLessThan(10);
  await reader.cancel();
  expect(many.asked.cancelled).toBe(true);
});
