import { describe, expect, test } from 'vitest';
import type { ArrivedLine } from '#core/arrivals/arrived-line.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { ArrivalsFrame } from '../../../data/answers.ts';
import { emptyFeed, type Feed, mostShown, mostWaiting, pausedFeed, rateOf, resumedFeed, withFrame } from './feed.ts';
import { outcomeInWords } from './outcome-in-words.ts';

const line = (text: string, more: Partial<ArrivedLine> = {}): ArrivedLine => ({
  ...{ received: 0, time: 0, severity: 9, source: 'gates', emitter: '', text, weight: 1, shape: '' },
  ...{ outcome: 'kept', tier: 'rest', rule: '' },
  ...more,
});
const frame = (texts: readonly string[], matched = texts.length): ArrivalsFrame['views'][number] => ({
  matched,
  severities: [0, 0, 0, matched, 0, 0, 0],
  lines: texts.map((text) => line(text)),
});
const texts = (lines: Feed['lines']): readonly string[] => lines.map(({ text }) => text);

describe('a view of what comes in', () => {
  test('has the newest line first, and no more than there is room for', () => {
    const two = withFrame(withFrame(emptyFeed, frame(['a', 'b']), 1_000), frame(['c']), 1_250);
    expect(texts(two.lines)).toEqual(['c', 'b', 'a']);
    expect(new Set(two.lines.map(({ key }) => key)).size).toBe(3);
    const many = frame(Array.from({ length: mostShown + 5 }, (_, n) => `${n}`));
    expect(withFrame(two, many, 1_500).lines).toHaveLength(mostShown);
  });

  test('paused, keeps what is there; what comes is counted, kept, and there when it goes on', () => {
    const paused = withFrame(pausedFeed(withFrame(emptyFeed, frame(['a']), 1_000)), frame(['b', 'c'], 80), 1_250);
    expect(texts(paused.lines)).toEqual(['a']);
    expect([paused.meanwhile, paused.waiting.length]).toEqual([80, 2]);
    expect(texts(resumedFeed(paused).lines)).toEqual(['c', 'b', 'a']);
    expect(resumedFeed(paused)).toMatchObject({ paused: false, meanwhile: 0, waiting: [] });
    const flood = frame(Array.from({ length: mostWaiting + 1 }, (_, n) => `${n}`));
    expect(withFrame(paused, flood, 1_500).waiting).toHaveLength(mostWaiting);
    expect(withFrame(paused, flood, 1_500).meanwhile).toBe(80 + mostWaiting + 1);
  });

  test('tells the same rate of what comes in bursts, whenever it is asked', () => {
    let feed = withFrame(emptyFeed, frame([]), 100_000);
    for (let burst = 0; burst < 40; burst++) {
      // About every five seconds, a little earlier or later.
      const at = 102_500 + burst * 5_000 + (burst % 3) * 700;
      feed = withFrame(feed, frame(['x'], 145), at);
      if (burst < 13) continue;
      for (let later = 0; later < 5_000; later += 500) {
        expect(rateOf(feed, at + later).rate).toBeGreaterThan(26);
        expect(rateOf(feed, at + later).rate).toBeLessThan(32);
      }
    }
  });

  test('tells how many come each second, and of how many one is shown', () => {
    let feed = emptyFeed;
    for (let at = 10_000; at < 20_000; at += 250) feed = withFrame(feed, frame(['x', 'y'], 100), at);
    expect(rateOf(feed, 20_000)).toEqual({ events: 4_000, span: 10, rate: 400, oneIn: 50 });
    // Nothing more came: the rate falls, and the rhythm forgets after a minute.
    expect(rateOf(feed, 30_000).rate).toBe(200);
    expect(rateOf(feed, 80_000)).toEqual({ events: 0, span: 60, rate: 0, oneIn: 1 });
    expect(withFrame(feed, frame([]), 80_500).seconds).toHaveLength(0);
    expect(feed.seconds).toHaveLength(10);
    expect(rateOf(withFrame(emptyFeed, frame(['x']), 10_400), 10_900)).toMatchObject({ span: 0, rate: 0 });
    expect(feed.seconds[0]).toMatchObject({ second: 10, matched: 400, lines: 8, severities: [0, 0, 0, 400, 0, 0, 0] });
  });
});

test('where a line went is said in the words of the live plan, with the page of what decided', () => {
  const plan: PlanDocument = {
    plan: 1,
    pipelines: [],
    tiers: [
      { id: 'rest', title: 'Rest', keep: '7d', exclusions: [{ id: 'x', title: 'Noise', when: 'n = 1', keep: 'none' }] },
    ],
  };
  expect(outcomeInWords(line('a'), plan)).toEqual({ words: 'Rest', isKept: true, link: '/routing?tier=rest' });
  expect(outcomeInWords(line('a', { outcome: 'excluded', rule: 'x' }), plan)).toEqual({
    ...{ words: 'left out by Noise', isKept: false, link: '/routing?tier=rest&exclusion=x' },
  });
  expect(outcomeInWords(line('a', { outcome: 'overflowed' }), plan).words).toBe('past the cap of Rest');
  expect(outcomeInWords(line('a', { outcome: 'passing', tier: '' }), plan)).toMatchObject({
    words: 'passing',
    link: undefined,
  });
  expect(outcomeInWords(line('a', { outcome: 'kept', tier: 'gone' }), plan)).toMatchObject({
    words: 'gone',
    link: undefined,
  });
});
