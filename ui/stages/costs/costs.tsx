'use client';

import dynamic from 'next/dynamic';
import { parseAsString, useQueryState, useQueryStates } from 'nuqs';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { dayInWords } from '#core/costs/month/calendar.ts';
import type { CostMonthAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Figure, FigurePending, Mark } from '../../kit/figure.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Problem, Section } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { CostsStill } from '../../kit/still-pictures.tsx';
import { monthInWords } from '../../kit/times/month-in-words.ts';
import { WorthDoing } from '../overview/worth-doing.tsx';
import { Budgets } from './budgets.tsx';
import { CostTable } from './cost-table.tsx';
import { MonthChanges } from './month-changes.tsx';
import { MonthChart } from './month-chart.tsx';
import { showMoney } from './show-money.ts';
import { WhichMonth } from './which-month.tsx';
import { wholeBudget } from './whole-budget.ts';
import { WhoseCosts } from './whose-costs.tsx';

// It brings what reads and writes YAML: only who opens it waits for that.
const PricesPanel = dynamic(() => import('./prices-panel.tsx').then((panel) => panel.PricesPanel));

/** What do I pay for? The month against its budget, what it is for, and the prices. */
export function Costs() {
  const [{ month, team }, choose] = useQueryStates({
    month: parseAsString.withDefault(''),
    team: parseAsString.withDefault(''),
  });
  const { data, error } = useQuestion('costMonth', { ...(month && { month }), ...(team && { team }) }, 30_000);
  const { data: prices } = useQuestion('prices', {});
  const [panel, setPanel] = useQueryState('panel');
  const close = (): void => void setPanel(null);
  return (
    <WithPanel open={panel === 'prices'} title="Price book" onClose={close} panel={<PricesPanel />}>
      <Sentence>{data ? <MonthSentence month={data} team={team} /> : <FigurePending />}</Sentence>
      {error && <Problem>{error.message}</Problem>}
      {data && !data.currency && prices && !prices.shown && (
        <Nothing title="Money is turned off.">
          <p className="mt-1 max-w-[640px]">The price book is kept; costs are hidden on all screens.</p>
          <div className="mt-3">
            <Button look="main" onClick={() => void showMoney(true)}>
              Turn money on
            </Button>
          </div>
        </Nothing>
      )}
      {data && !data.currency && prices?.shown && (
        <Nothing title="Prices turn volume into money." picture={<CostsStill />}>
          <p className="mt-1 max-w-[640px]">
            A price book says what a GB received, a million events kept and a GB stored cost. With it, every volume has
            a cost and the month a forecast.
          </p>
          <div className="mt-3">
            <Button look="main" onClick={() => void setPanel('prices')}>
              Create price book
            </Button>
          </div>
        </Nothing>
      )}
      {data?.currency && (
        <>
          <Section
            title={`Spent${data.isOver ? '' : ' and forecast'} · ${monthInWords(data.from)}, by days of UTC`}
            className="mt-5"
            aside={
              <span className="flex items-center gap-2">
                <WhichMonth month={data} onChange={(next) => void choose({ month: next })} />
                <WhoseCosts team={team} onChange={(next) => void choose({ team: next || null })} />
                <Button onClick={() => void setPanel('prices')}>Price book …</Button>
              </span>
            }
          >
            <MonthChart month={data} currency={data.currency} team={team} />
          </Section>
          <Budgets month={data} currency={data.currency} />
          <CostTable month={data} currency={data.currency} team={team} />
          {!team && !data.isOver && <WorthDoing most={5} className="mt-6" />}
          <MonthChanges month={data} />
        </>
      )}
    </WithPanel>
  );
}

function MonthSentence({ month, team }: { readonly month: CostMonthAnswer; readonly team: string }) {
  const { currency, end, spent, from } = month;
  if (!currency) return <>There is no price book yet: nothing has a price.</>;
  const name = team ? `${monthInWords(from)} of team ${team}` : monthInWords(from);
  const of = { of: team && `team ${team}`, over: monthInWords(from), unit: currency.sign };
  const budget = wholeBudget(month, team);
  if (month.isOver)
    return (
      <>
        {name} cost{' '}
        <Figure name="cost" {...of} value={spent} needs={budget !== undefined && spent > budget.amount}>
          {formatCoins(spent, currency)}
        </Figure>
        {budget && `, of a budget of ${formatCoins(budget.amount, currency)}`}.
      </>
    );
  if (!end)
    return (
      <>
        {name} has cost{' '}
        <Figure name="cost so far" {...of} value={spent}>
          {formatCoins(spent, currency)}
        </Figure>{' '}
        so far; a forecast appears after four full days.
      </>
    );
  const over = budget ? end.middle - budget.amount : 0;
  return (
    <>
      {name} is heading for{' '}
      <Figure name="cost" {...of} value={end.middle} needs={over > 0}>
        {formatCoins(end.middle, currency)}
      </Figure>
      , between {formatCoins(end.low, currency)} and {formatCoins(end.high, currency)}
      {budget && over > 0 && (
        <>
          ;{' '}
          <Figure name="cost over budget" {...of} value={over} needs>
            {formatCoins(over, currency)}
          </Figure>{' '}
          over budget
          {budget.crossedOn && (
            <>
              {budget.spent >= budget.amount ? ' since ' : ' on '}
              <Mark>{dayInWords(budget.crossedOn)}</Mark>
            </>
          )}
        </>
      )}
      {budget && over <= 0 && (
        <>
          , within its budget of{' '}
          <Figure name="budget" {...of} value={budget.amount}>
            {formatCoins(budget.amount, currency)}
          </Figure>
        </>
      )}
      .
      <FullMonth coins={month.fullMonth} currency={currency} team={team} />
    </>
  );
}

/** What a month costs whose tiers are full, where that is known: a calendar month in which much was new comes to less. */
function FullMonth(props: { readonly coins: number | null; readonly currency: Currency; readonly team: string }) {
  const { coins, currency, team } = props;
  if (coins === null) return null;
  return (
    <>
      {' '}
      A full month at last week’s volume costs{' '}
      <Figure
        name="cost of a full month"
        of={team && `team ${team}`}
        over="30 days like the last week"
        unit={currency.sign}
        value={coins}
      >
        {formatCoins(coins, currency)}
      </Figure>
      .
    </>
  );
}
