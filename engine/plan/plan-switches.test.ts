import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { SwitchesAnswer } from '#core/answers/switches.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      exclusions: [{ id: 'noise', title: 'Noise', when: 'noise', keep: 'none' }],
    },
  ],
  postures: [{ id: 'storm', title: 'Storm', overrides: [{ exclusion: '*', keep: 'all' }] }],
};

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('piers');
  await engine.publish(plan);
});

afterAll(() => engine.stop());

/** Which tier holds a line that is sent now. */
async function tierOf(line: string): Promise<string> {
  await send(engine, 'piers', `noise ${line}\n`);
  const kept = await engine.found({ condition: `source = piers ${line}`, limit: 1 }, 1);
  expect(kept.total).toBe(1);
  const inRest = await engine.search({ condition: `source = piers ${line}`, tiers: ['rest'], limit: 0 });
  return inRest.total === 1 ? 'rest' : 'passing';
}

const switches = (): Promise<SwitchesAnswer> => engine.ask<SwitchesAnswer>('switches');

/** Waits until nothing is switched any more, at most half a minute. */
async function untilOff(): Promise<void> {
  for (const end = Date.now() + 30_000; Date.now() < end; ) {
    const { postures, exclusions } = await switches();
    if (postures.every(({ on }) => on === null) && exclusions.length === 0) return;
  }
}

test('a posture is on from the request on, off by another one, and off by itself', async () => {
  expect(await tierOf('before')).toBe('passing');
  await engine.ask('switchPosture', { id: 'storm', on: true, for: '1h', reason: 'gale' });
  expect(await tierOf('during')).toBe('rest');
  expect((await switches()).postures).toMatchObject([{ id: 'storm', on: { reason: 'gale' } }]);
  await engine.ask('switchPosture', { id: 'storm', on: false });
  expect(await tierOf('afterwards')).toBe('passing');
  await engine.ask('switchPosture', { id: 'storm', on: true, for: '2s' });
  expect(await tierOf('again')).toBe('rest');
  await untilOff();
  expect(await tierOf('lastly')).toBe('passing');
});

test('what ends while no engine runs is over when one runs again', async () => {
  await engine.ask('switchPosture', { id: 'storm', on: true, for: '1s' });
  await engine.kill();
  await engine.restart();
  await untilOff();
  expect(await tierOf('restarted')).toBe('passing');
});

test('an exclusion keeps something else for a while, and is switched back', async () => {
  await engine.ask('switchExclusion', { tier: 'rest', exclusion: 'noise', keep: 'all', for: '1h', reason: 'to see' });
  expect(await tierOf('switched')).toBe('rest');
  expect((await switches()).exclusions).toMatchObject([
    { tier: 'rest', exclusion: 'noise', title: 'Noise', keep: 'all' },
  ]);
  await engine.ask('restoreExclusion', { tier: 'rest', exclusion: 'noise' });
  expect(await tierOf('restored')).toBe('passing');
});

test('what is not in the plan, shares that are none, and times that are too long are refused; all is written down', async () => {
  await expect(engine.ask('switchPosture', { id: 'calm', on: true })).rejects.toThrow(/no posture calm/);
  await expect(engine.ask('switchExclusion', { tier: 'rest', exclusion: 'x', keep: 'all' })).rejects.toThrow(/rest\/x/);
  await expect(engine.ask('switchExclusion', { tier: 'rest', exclusion: 'noise', keep: 'half' })).rejects.toThrow();
  await expect(engine.ask('switchPosture', { id: 'storm', on: true, for: '1000d' })).rejects.toThrow(/90 days/);
  const { changes } = await engine.ask<{ changes: { command: string; subject: string }[] }>('audit');
  const reported = changes
    .filter(({ command }) => command.startsWith('PUT /api/postures'))
    .map(({ subject }) => subject);
  expect(reported).toContain('storm on');
  expect(reported).toContain('storm off');
});
