import { join } from 'node:path';
import { expect, test } from './installations/application.ts';
import { installation } from './installations/installations.ts';
import { startNginx } from './installations/nginx.ts';
import {
  addFirstToDraft,
  addToDraft,
  askToPublish,
  discardDraft,
  draftStrip,
  openPublishing,
  publishDraft,
} from './pages/draft.ts';
import { editorOf } from './pages/editor.ts';
import { panelOf } from './pages/panel.ts';
import { pointAt } from './pages/pointing.ts';

const access =
  /^(?<client>\S+) - (?<user>\S+) \[(?<at>[^\]]+)\] "(?<method>\S+) (?<path>\S+) HTTP\/(?<version>[\d.]+)" (?<status>\d+) (?<size>\d+) "(?<referrer>[^"]*)" "(?<agent>[^"]*)"(?: (?<took>[\d.]+))?$/;

/** Each text format of the demo with the kinds of lines it has, and fields that must come out of any line. */
const formats: readonly (readonly [source: string, kinds: readonly RegExp[]])[] = [
  ['booking-web', [access]],
  [
    'payments',
    [
      /^(?<at>\S+) (?<lvl>\S) pay\[(?<worker>\d+)\] (?<outcome>\w+) card=(?<card>\S+) settle=(?<amount>[\d.]+)(?<currency>[A-Z]+) acquirer=(?<acquirer>\w+) took=(?<took>\S+) ref=(?<ref>\S+)$/,
      /^(?<at>\S+) (?<lvl>\S) pay\[(?<worker>\d+)\] (?<outcome>\w+) card=(?<card>\S+) amount=(?<amount>[\d.]+)(?<currency>[A-Z]+) acquirer=(?<acquirer>\w+) took=(?<took>\S+) ref=(?<ref>\S+)$/,
    ],
  ],
  [
    'berth-planner',
    [
      /^ts=(?<at>\S+) level=(?<lvl>\S+) msg="(?<message>candidate scored)" host=(?<host>\S+) vessel="(?<vessel>[^"]+)" port="(?<port>[^"]+)" berth=(?<berth>\d+) cache=(?<cache>\w+) score=(?<score>[\d.]+) draught=(?<draught>[\d.]+) clearance=(?<clearance>[\d.]+) round=(?<round>\d+) took=(?<took>\S+)$/,
      /^ts=(?<at>\S+) level=(?<lvl>\S+) msg="(?<message>berth assigned)" host=(?<host>\S+) vessel="(?<vessel>[^"]+)" port="(?<port>[^"]+)" berth=(?<berth>\d+) took=(?<took>\S+)$/,
    ],
  ],
  [
    'tides',
    [
      /^(?<gauge>[^,]+),(?<at>\d{4}[^,]+),(?<height>[^,]+),(?<wind>[^,]+),(?<water>[^,]+),(?<battery>\d+)$/,
      /^(?<gauge>[^,]+),ERR,(?<state>\w+) since (?<seconds>\d+) s$/,
    ],
  ],
  [
    'notices',
    [
      /^sent boarding notice for (?<ref>\S+) to passenger at (?<port>.+)$/,
      /^could not send boarding notice for (?<ref>[^:]+): (?<reason>.+)$/,
    ],
  ],
];

test.describe('a template is made by pointing only', () => {
  for (const [source, kinds] of formats) {
    test(`for the lines of ${source}`, async ({ page }) => {
      test.setTimeout(120_000);
      await page.goto(`/parsing?source=${source}`);
      await page.getByRole('button', { name: `Add pipeline for ${source}` }).click();
      const heading = page.getByRole('heading', { level: 1 });
      await expect(heading).toContainText('of them fit this step');
      await expect(page.getByText('It has no template yet')).toBeVisible();
      const left = new Set(kinds);
      const fitting = async (): Promise<number> =>
        Number(/([\d.]+) % of them fit/.exec((await heading.textContent()) ?? '')?.[1]);
      while (left.size > 0) {
        if (left.size < kinds.length) await page.getByRole('button', { name: 'Start over' }).click();
        // A line that does not fit comes first, once the sample has been tried anew; its kind decides what is pointed at.
        let text = '';
        const next = async (): Promise<RegExp | undefined> => {
          text = (await page.locator('[data-line]').first().textContent()) ?? '';
          return [...left].find((shape) => shape.test(text));
        };
        await expect.poll(async () => (await fitting()) >= 99.9 || (await next()) !== undefined).toBe(true);
        const kind = (await fitting()) >= 99.9 ? undefined : await next();
        if (!kind) break;
        await pointAt(page, text, kind);
        left.delete(kind);
      }
      await expect(heading).toContainText(/(100|99\.\d) % of them fit/);
      await discardDraft(page);
    });
  }

  test('for the real access lines of nginx', async ({ page, request }) => {
    test.setTimeout(120_000);
    const nginx = await startNginx(join(installation().files, 'nginx-pointing'), '1');
    try {
      await request.post('/api/sources', {
        data: { name: 'wharf-lines', kind: 'files', settings: { globs: [nginx.log] } },
      });
      for (let i = 0; i < 40; i++)
        await fetch(`${nginx.url}/${i % 5 === 0 ? 'gone' : 'pier'}?n=${i}`, {
          headers: { referer: i % 2 ? 'https://www.skerry.example/' : '' },
        });
      await expect(async () => {
        const tape = await (await request.get('/api/tape?source=wharf-lines&limit=100')).json();
        expect(tape.lines.length).toBeGreaterThanOrEqual(40);
      }).toPass({ timeout: 20_000 });
      await page.goto('/parsing?source=wharf-lines');
      await page.getByRole('button', { name: 'Add pipeline for wharf-lines' }).click();
      // Only a line that says where it was referred from shows all pieces.
      const whole = page.locator('[data-line]', { hasText: 'https://www.skerry.example/' }).first();
      await pointAt(page, (await whole.textContent()) ?? '', access);
      await expect(page.getByRole('heading', { level: 1 })).toContainText('100 % of them fit');
      await expect(editorOf(page, 'Template 1')).toContainText('[{at:clf}]');
      await discardDraft(page);
    } finally {
      nginx.stop();
    }
  });
});

test('a new extract step shows proposals and takes one with a click', async ({ page }) => {
  await page.goto('/parsing?source=booking-web');
  await page.getByRole('button', { name: 'Add pipeline for booking-web' }).click();
  const proposed = page.getByRole('region', { name: 'Proposed templates' });
  await expect(proposed.getByRole('listitem').first()).toContainText('Combined log format, extended at the end');
  await addFirstToDraft(proposed);
  await expect(editorOf(page, 'Template 1')).toContainText('"{agent?}" {took:seconds}');
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/(100|99\.\d) % of them fit/);
  await discardDraft(page);
});

test('a sample is kept as a test, and a test that fails blocks publishing', async ({ page, request }) => {
  await page.goto('/parsing/tides');
  await page.getByRole('button', { name: 'Add traced line as test' }).click();
  const strip = draftStrip(page);
  await expect(strip).toContainText('1 change');
  await expect(page.getByRole('button', { name: 'sample 2 passes' })).toBeVisible();
  const { plan, version } = await (await request.get('/api/plan/draft')).json();
  const tides = plan.pipelines.find(({ id }: { id: string }) => id === 'tides');
  tides.tests[0].expect.height = 9;
  await request.put('/api/plan/draft', { data: { plan, version } });
  await page.reload();
  await expect(page.getByText('height: 1.724, expected 9')).toBeVisible();
  await askToPublish(page, 'Higher tides');
  await expect(page.getByRole('dialog')).toContainText(
    'test “a measurement” of “Tide gauges” fails: height is 1.724, expected 9',
  );
  await page.keyboard.press('Escape');
  await discardDraft(page);
});

test('publishing a mask offers to mask at the source instead, and scrubs what is on the tape', async ({
  page,
  request,
}) => {
  const taped = async (): Promise<string> => (await request.get('/api/tape?source=payments&limit=200')).text();
  const before = await taped();
  const [, card = ''] = /card=(\S+)/.exec(before) ?? [];
  expect(card).not.toBe('');
  const { plan } = await (await request.get('/api/plan')).json();
  const payments = plan.pipelines.find(({ id }: { id: string }) => id === 'payments');
  payments.steps.push({ mask: { fields: ['card'], after: 'card=', with: 'hash' } });
  await request.put('/api/plan/draft', { data: { plan } });
  await page.goto('/changes');
  const dialog = await openPublishing(page);
  await expect(dialog).toContainText('The tape and the rejects still have it unmasked.');
  await dialog.getByRole('button', { name: /^Mask in payments/ }).click();
  await expect(page.getByText(/payments masks it at the intake from now on; \d+ lines on the tape/)).toBeVisible();
  // The mask step was all that the draft changed.
  await expect(dialog).toBeHidden();
  expect(await taped()).not.toContain(`card=${card}`);
  const { source } = await (await request.get('/api/sources/payments')).json();
  expect(source.settings.masks).toEqual([{ after: 'card=', with: 'hash' }]);
  await request.put('/api/sources/payments', { data: { settings: { masks: [] } } });
  await request.delete('/api/plan/draft');
});

test('rejects are tried again after a fix, each once', async ({ page, request }) => {
  test.setTimeout(120_000);
  const count = async (tier: string): Promise<number> => {
    const answer = await request.post('/api/search', {
      data: { condition: 'source = tides ERR', tiers: [tier], from: '-7d', to: 'now', limit: 0, buckets: 0 },
    });
    return (await answer.json()).total;
  };
  const { plan } = await (await request.get('/api/plan')).json();
  const tides = plan.pipelines.find(({ id }: { id: string }) => id === 'tides');
  tides.steps[0].extract = {
    from: 'body',
    templates: [tides.steps[0].extract.template, '{gauge},ERR,{state} since {seconds:int} s'],
  };
  tides.steps[1].when = 'has at';
  tides.steps[2].when = 'has height';
  await request.put('/api/plan/draft', { data: { plan } });
  await page.goto('/parsing?view=rejects');
  await page.getByRole('button', { name: 'Rehearse rejects' }).first().click();
  await expect(page.getByText('100 % of them would pass')).toBeVisible({ timeout: 60_000 });
  await publishDraft(page, 'Tide gauges that calibrate');
  await expect(page.getByRole('button', { name: 'Retry with live plan' }).first()).toBeVisible();
  const before = await count('rejects');
  expect(before).toBeGreaterThan(100);
  // All of a source at once; there are none of others.
  await page.getByRole('button', { name: /^tides \([\d,]+\)$/ }).click();
  await expect(page.getByText('No rejects.')).toBeVisible({ timeout: 60_000 });
  const kept = await count('rest');
  // Rest keeps three days: what is older leaves the rejects and is not stored again.
  expect(kept).toBeGreaterThan(before / 4);
  expect(await count('rejects')).toBe(0);
});

test('a line is followed through steps that look values up, as it will be live', async ({ page, request }) => {
  await request.put('/api/tables', {
    data: { name: 'gauges', csv: 'gauge,pier\ntide-1,North Pier\ntide-2,Old Pier\n' },
  });
  const { plan } = await (await request.get('/api/plan')).json();
  const tides = plan.pipelines.find(({ id }: { id: string }) => id === 'tides');
  tides.steps.push({ map: { from: 'gauge', table: 'gauges' } });
  tides.tests[0].expect.pier = 'Old Pier';
  await request.put('/api/plan/draft', { data: { plan } });
  await page.goto('/parsing/tides');
  await expect(page.getByRole('button', { name: 'a measurement passes' })).toBeVisible();
  await page.getByLabel('Or paste a line to trace').fill(`tide-1,${new Date().toISOString()},2.5,7.1,8.9,88`);
  await expect(page.getByText('North Pier')).toBeVisible();
  await discardDraft(page);
});

test('a pipeline that several sources enter is tried out on the lines of any of them', async ({ page, request }) => {
  const { plan } = await (await request.get('/api/plan')).json();
  const when = 'source in (tides, gates)';
  const steps = [{ extract: { from: 'body', template: '{gauge},{rest:rest}' } }];
  plan.pipelines.push({ id: 'quays', title: 'Quays', when, steps });
  await request.put('/api/plan/draft', { data: { plan } });
  await page.goto('/parsing/quays');
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toContainText('100 % of them fit');
  await page.getByRole('button', { name: /^Lines of/ }).click();
  await page.getByRole('option', { name: 'gates', exact: true }).click();
  await expect(heading).not.toContainText('100 % of them fit');
  await expect(page).toHaveURL(/of=gates/);
});

test('a plan goes out as YAML and comes in again, faults named with their line', async ({ page }) => {
  await page.goto('/parsing?panel=text');
  const panel = panelOf(page, 'The plan as text');
  await panel.getByLabel('YAML').fill('pipeline:\n  id: wharf\n  title: Wharf\n  when: source ==\n  steps: []\n');
  await addToDraft(panel);
  await expect(panel).toContainText('line 4, column 9');
  await panel.getByLabel('YAML').fill('pipeline:\n  id: wharf\n  title: Wharf\n  when: source = wharf\n  steps: []\n');
  await addToDraft(panel);
  const strip = draftStrip(page);
  await expect(strip).toContainText('1 change');
  await discardDraft(page);
});
