'use client';

import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatCount } from '#core/events/units.ts';
import type { StageFiguresAnswer } from '../data/answers.ts';
import { useQuestion } from '../data/client.ts';
import { Figure, type FigureMeaning } from '../kit/figure.tsx';
import { monthInWords } from '../kit/times/month-in-words.ts';
import { percent } from '../kit/times/times.ts';

interface StageFigure extends FigureMeaning {
  readonly text: string;
}

interface Stage {
  readonly path: string;
  readonly title: string;
  /** Shown below its name: a figure with its meaning, or plain words. */
  readonly figure: (figures: StageFiguresAnswer) => StageFigure | string;
  readonly needs?: (figures: StageFiguresAnswer) => number;
  /** Fetches the code of its screen. */
  readonly screen: () => Promise<unknown>;
}

/** The stages in the order of the work. */
export const stages: readonly Stage[] = [
  {
    path: '/',
    title: 'Overview',
    figure: () => 'all at once',
    screen: () => import('../stages/overview/overview.tsx'),
  },
  {
    path: '/sources',
    title: 'Sources',
    screen: () => import('../stages/sources/sources.tsx'),
    figure: ({ eventsPerSecond: value }) => ({
      ...{ name: 'rate', over: 'last minute', unit: 'events/s', value },
      text: `${formatCount(value)} events/s`,
    }),
    needs: (f) => f.needs.sources,
  },
  {
    path: '/parsing',
    title: 'Parsing',
    screen: () => import('../stages/parsing/parsing.tsx'),
    figure: ({ arrived, parsedShare: value }) =>
      arrived === 0
        ? 'no events'
        : {
            ...{ name: 'parsed', over: 'last 24 h', unit: 'share of events', value },
            text: `${percent(value)} parsed`,
          },
    needs: (f) => f.needs.parsing,
  },
  {
    path: '/routing',
    title: 'Routing',
    screen: () => import('../stages/routing/routing.tsx'),
    figure: ({ arrived, keptShare: value }) =>
      arrived === 0
        ? 'no events'
        : {
            ...{ name: 'kept', over: 'last 24 h', unit: 'share of bytes', value },
            text: `${percent(value)} kept`,
          },
    needs: (f) => f.needs.routing,
  },
  {
    path: '/metrics',
    title: 'Metrics',
    screen: () => import('../stages/metrics/metrics.tsx'),
    figure: ({ series: value }) => ({
      ...{ name: 'metric series', over: 'last 30 days', unit: 'series', value },
      text: `${formatCount(value)} series`,
    }),
    needs: (f) => f.needs.metrics,
  },
  {
    path: '/explore',
    title: 'Explore',
    screen: () => import('../stages/explore/explore.tsx'),
    figure: ({ storedEvents: value }) => ({
      ...{ name: 'stored events', over: 'now', unit: 'events', value },
      text: `${millions(value)} events`,
    }),
  },
  {
    path: '/costs',
    title: 'Costs',
    screen: () => import('../stages/costs/costs.tsx'),
    figure: ({ at, month }) =>
      month
        ? {
            ...{ name: month.isForecast ? 'cost' : 'cost so far', over: monthInWords(at) },
            ...{ unit: month.currency.sign, value: month.coins },
            text: `${formatCoins(month.coins, month.currency)} this month`,
          }
        : 'no prices',
    needs: (f) => f.needs.costs,
  },
  {
    path: '/changes',
    title: 'Changes',
    screen: () => import('../stages/changes/changes.tsx'),
    figure: ({ revision: value }) => ({
      ...{ name: 'revision', over: 'now', unit: 'number', value },
      text: `revision ${value}`,
    }),
  },
];

function millions(count: number): string {
  return count >= 1e6 ? `${(count / 1e6).toFixed(1)} M` : formatCount(count);
}

function BelowName({ figure }: { readonly figure: StageFigure | string }) {
  if (typeof figure === 'string') return figure;
  const { text, ...meaning } = figure;
  return (
    <Figure {...meaning} plain>
      {text}
    </Figure>
  );
}

/** The mark of a stage that needs someone, with how many things do. */
function NeedsMark({ count }: { readonly count: number }) {
  if (count === 0) return null;
  return (
    <span
      title={`${count} ${count === 1 ? 'thing needs' : 'things need'} you`}
      className="-my-px ml-1.5 inline-block min-w-[16px] rounded-full bg-mark px-1 text-center align-[1px] font-semibold text-[11px] text-paper leading-[16px]"
    >
      {count}
      <span className="sr-only"> {count === 1 ? 'needs' : 'need'} you</span>
    </span>
  );
}

/** Navigation and status at once: a line across the top on which the stages lie. */
export function Navigation() {
  const path = usePathname();
  const { data, error } = useQuestion('stageFigures', {}, 5_000);
  const current = (stage: Stage): boolean => (stage.path === '/' ? path === '/' : path.startsWith(stage.path));
  return (
    <nav aria-label="Stages" className="relative flex flex-1">
      <span className="absolute top-[15px] right-2.5 left-1.5 border-t border-second/55" aria-hidden="true" />
      {stages.map((stage) => (
        <Link
          key={stage.path}
          href={stage.path}
          prefetch
          aria-current={current(stage) ? 'page' : undefined}
          className="group relative flex-1 pt-[26px]"
        >
          <span
            aria-hidden="true"
            className={`absolute top-[11px] left-0 size-[9px] rounded-full border-[1.5px] ${current(stage) ? 'border-mark bg-mark ring-3 ring-mark-wash' : 'border-second bg-paper group-hover:border-mark'}`}
          />
          <span className={`block leading-4 ${current(stage) ? 'font-[650] text-mark' : 'font-[550]'}`}>
            {stage.title}
            {data && <NeedsMark count={stage.needs?.(data) ?? 0} />}
          </span>
          <span className="block truncate pr-1 text-[12px] leading-4 text-second">
            {data ? <BelowName figure={stage.figure(data)} /> : ' '}
          </span>
        </Link>
      ))}
      {error && (
        <span className="absolute right-0 bottom-1 text-[12px] font-semibold text-danger">
          ◆ figures could not be loaded
        </span>
      )}
    </nav>
  );
}
