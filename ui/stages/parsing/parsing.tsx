'use client';

import { parseAsStringEnum, useQueryState } from 'nuqs';
import { formatCount } from '#core/events/units.ts';
import { shareOf } from '#core/routing/volume-sums.ts';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { Figure, FigurePending, Mark } from '../../kit/figure.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { percent } from '../../kit/times/times.ts';
import { FieldCatalogue } from './field-catalogue.tsx';
import { KitsPanel } from './kits-panel.tsx';
import { PipelineList } from './pipeline-list.tsx';
import { PlanTextPanel } from './plan-text-panel.tsx';
import { Rejects } from './rejects.tsx';

const views = ['pipelines', 'fields', 'rejects'] as const;

/** Do lines become fields? The pipelines in order, the fields they make, and what did not fit. */
export function Parsing() {
  const { plan } = useDraft();
  const { data: volume } = useQuestion('volume', { from: '-1d', by: 'source,parsed' }, 15_000);
  const [view, setView] = useQueryState('view', parseAsStringEnum([...views]).withDefault('pipelines'));
  const [panel, setPanel] = useQueryState('panel');
  const all = volume?.sums.reduce((sum, row) => sum + row.events, 0) ?? 0;
  const unparsed = volume?.sums.filter((row) => !row.parsed) ?? [];
  const parsed = shareOf(all - unparsed.reduce((sum, row) => sum + row.events, 0), all);
  const worst = [...unparsed].sort((a, b) => b.events - a.events)[0];
  return (
    <WithPanel
      open={panel !== null}
      title={panel === 'kits' ? 'Starter kits' : 'The plan as text'}
      onClose={() => void setPanel(null)}
      panel={panel === 'kits' ? <KitsPanel /> : <PlanTextPanel />}
    >
      <Sentence>
        {volume && plan && all === 0 ? (
          `No events in the last 24 h; ${plan.pipelines.length === 0 ? 'no pipelines yet' : `${plan.pipelines.length} pipelines are ready`}.`
        ) : volume && plan ? (
          <>
            <Figure name="parsed" over="last 24 h" unit="share of events" value={parsed}>
              {percent(parsed)}
            </Figure>{' '}
            of the events of the last 24 h were parsed, by{' '}
            <Figure name="pipelines" over="now" unit="pipelines" value={plan.pipelines.length}>
              {formatCount(plan.pipelines.length)}
            </Figure>{' '}
            {plan.pipelines.length === 1 ? 'pipeline' : 'pipelines'}
            {worst && worst.events > 0 && (
              <>
                ; most that were not are from <Mark to={`/sources/${worst.source}`}>{worst.source}</Mark>
              </>
            )}
            .
          </>
        ) : (
          <>
            <FigurePending /> of the events of the last 24 h were parsed, by <FigurePending /> pipelines.
          </>
        )}
      </Sentence>
      <div className="mt-4 mb-2 flex items-center gap-3">
        <Choice
          label="What to show"
          value={view}
          onChange={(next) => void setView(next)}
          options={[
            { value: 'pipelines', title: 'Pipelines' },
            { value: 'fields', title: 'Fields' },
            { value: 'rejects', title: 'Rejects' },
          ]}
        />
        <span className="flex-1" />
        <Button onClick={() => void setPanel('kits')}>Starter kits</Button>
        <Button onClick={() => void setPanel('text')}>Import and export</Button>
      </div>
      {view === 'pipelines' && <PipelineList />}
      {view === 'fields' && <FieldCatalogue />}
      {view === 'rejects' && <Rejects />}
    </WithPanel>
  );
}
