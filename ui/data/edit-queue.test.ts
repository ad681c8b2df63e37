import { beforeEach, describe, expect, test, vi } from 'vitest';
import { editQueue } from './edit-queue.ts';

const restTime = 500;

/** A queue over a text that takes a turn to be stored, and what was stored, in order. */
function textQueue() {
  const stored: string[] = [];
  const queue = editQueue<(before: string) => string>(async (edit) => {
    const next = edit(stored.at(-1) ?? '');
    await Promise.resolve();
    if (next.endsWith('!')) throw new Error('refused');
    stored.push(next);
  }, restTime);
  return { stored, queue };
}

const add =
  (text: string) =>
  (before: string): string =>
    before + text;

beforeEach(() => {
  vi.useFakeTimers();
  return () => vi.useRealTimers();
});

describe('edits', () => {
  test('are made one after the other, each on what the one before left', async () => {
    const { queue, stored } = textQueue();
    await Promise.all([queue.make(add('a')), queue.make(add('b')), queue.make(add('c'))]);
    expect(stored).toEqual(['a', 'ab', 'abc']);
  });

  test('go on after one that was refused, which is reported to whoever made it', async () => {
    const { queue, stored } = textQueue();
    const refused = queue.make(add('!'));
    const next = queue.make(add('b'));
    await expect(refused).rejects.toThrow('refused');
    await next;
    expect(stored).toEqual(['b']);
    expect(queue.isBusy()).toBe(false);
  });
});

describe('what is being typed', () => {
  test('is stored once, when typing rests', async () => {
    const { queue, stored } = textQueue();
    for (const text of ['p', 'pi', 'pie', 'pier']) {
      void queue.makeRested('title', () => text);
      await vi.advanceTimersByTimeAsync(restTime - 1);
    }
    expect([stored, queue.isBusy()]).toEqual([[], true]);
    await vi.advanceTimersByTimeAsync(1);
    expect([stored, queue.isBusy()]).toEqual([['pier'], false]);
  });

  test('is stored at once when the screen is left', async () => {
    const { queue, stored } = textQueue();
    void queue.makeRested('title', () => 'pier');
    await queue.settle();
    expect(stored).toEqual(['pier']);
    await vi.advanceTimersByTimeAsync(restTime);
    expect(stored).toEqual(['pier']);
  });

  test('is stored before any other edit, and before what is typed elsewhere', async () => {
    const { queue, stored } = textQueue();
    void queue.makeRested('title', add('title '));
    void queue.makeRested('note', add('note '));
    await queue.make(add('tier'));
    expect(stored).toEqual(['title ', 'title note ', 'title note tier']);
  });

  test('tells all who typed when it is stored, or why it is not', async () => {
    const { queue } = textQueue();
    const typed = [queue.makeRested('title', add('p')), queue.makeRested('title', add('pier'))];
    await queue.settle();
    await expect(Promise.all(typed)).resolves.toBeDefined();
    const refused = [queue.makeRested('title', add('p')), queue.makeRested('title', add('!'))];
    await expect(queue.settle()).rejects.toThrow('refused');
    expect((await Promise.allSettled(refused)).map(({ status }) => status)).toEqual(['rejected', 'rejected']);
  });
});

test('settling with nothing to do is done', async () => {
  await expect(textQueue().queue.settle()).resolves.toBeUndefined();
});
