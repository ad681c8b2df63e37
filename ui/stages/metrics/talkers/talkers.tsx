'use client';

import { parseAsString, useQueryStates } from 'nuqs';
import { formatCount } from '#core/events/units.ts';
import type { RankingsAnswer, RankingView } from '../../../data/answers.ts';
import { useQuestion } from '../../../data/client.ts';
import { useDraft } from '../../../data/draft.ts';
import { Button } from '../../../kit/button.tsx';
import { Figure, FigurePending, Mark } from '../../../kit/figure.tsx';
import { WithPanel } from '../../../kit/panel.tsx';
import { Problem, Section } from '../../../kit/section.tsx';
import { Sentence } from '../../../kit/sentence.tsx';
import { dayAndMinute, percent } from '../../../kit/times/times.ts';
import { MetricsOrTalkers } from '../metrics-or-talkers.tsx';
import { RankingDetail } from './ranking-detail.tsx';
import { RankingPanel } from './ranking-panel.tsx';
import { RankingTable } from './ranking-table.tsx';

/** Under which a new ranking is open, in the address. */
const newOne = 'new';

/** Who contributes most? The ready rankings and those of the plan, one of them over time, and making one. */
export function Talkers() {
  const [{ ranking, edit, when, keys }, choose] = useQueryStates({
    ranking: parseAsString.withDefault(''),
    edit: parseAsString.withDefault(''),
    when: parseAsString.withDefault(''),
    keys: parseAsString.withDefault(''),
  });
  const { data, error } = useQuestion('rankings', {}, 10_000);
  const { plan } = useDraft();
  const edited = plan?.rankings?.find(({ id }) => id === edit);
  const isOpen = plan !== undefined && (edit === newOne || edited !== undefined);
  const close = (): void => void choose({ edit: null, when: null, keys: null });
  const shown = data?.rankings.find(({ id, state }) => id === ranking && state !== 'new') ?? data?.rankings[0];
  const start = { when, by: keys === '' ? [] : keys.split(',') };
  return (
    <WithPanel
      open={isOpen}
      title={edited ? edited.title : 'New ranking'}
      onClose={close}
      panel={<RankingPanel key={edit} ranking={edited} start={start} onClose={close} />}
    >
      <Sentence>{data ? <TalkersSentence answer={data} /> : <FigurePending />}</Sentence>
      {error && <Problem>{error.message}</Problem>}
      <Section
        title={<MetricsOrTalkers current="talkers" />}
        className="mt-5"
        aside={
          <Button look="main" onClick={() => void choose({ edit: newOne })}>
            Create ranking
          </Button>
        }
      >
        {data && (
          <RankingTable
            rankings={data.rankings}
            from={data.from}
            chosen={shown?.id ?? ''}
            onChoose={(id, state) => void choose(state === 'new' ? { edit: id } : { ranking: id })}
            onEdit={(id) => void choose({ edit: id })}
          />
        )}
      </Section>
      {shown && <RankingDetail key={shown.id} id={shown.id} />}
    </WithPanel>
  );
}

function TalkersSentence({ answer: { rankings, from } }: { readonly answer: RankingsAnswer }) {
  const found = (wanted: string): RankingView | undefined => rankings.find(({ id }) => id === wanted);
  const sources = found('sources');
  if (!sources?.first) return <>Nothing was received in the last 24 hours.</>;
  const { name, share } = sources.first;
  const shapes = found('shapes')?.distinct ?? 0;
  const since = `since ${dayAndMinute(from)}`;
  return (
    <>
      <Mark>{name}</Mark> sent{' '}
      <Figure name="share of the largest source" over={since} unit="share of bytes" value={share}>
        {percent(share)}
      </Figure>{' '}
      of the bytes {since}. Lines of{' '}
      <Figure name="shapes that came" over={since} unit="shapes" value={shapes}>
        {formatCount(shapes)}
      </Figure>{' '}
      shapes arrived.
    </>
  );
}
