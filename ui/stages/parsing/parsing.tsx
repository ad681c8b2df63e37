'use client';

import { parseAsStringEnum, useQueryState } from 'nuqs';
import type { VolumeAnswer } from '#core/answers/search.ts';
import { formatCount } from '#core/events/units.ts';
import { useDraft } from '../../data/draft.ts';
import { useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Figure, FigurePending, Sentence } from '../../kit/sentence.tsx';
import { percent } from '../../kit/times.ts';
import { FieldCatalogue } from './field-catalogue.tsx';
import { KitsPanel } from './kits-panel.tsx';
import { PipelineList } from './pipeline-list.tsx';
import { PlanTextPanel } from './plan-text-panel.tsx';
import { Rejects } from './rejects.tsx';

const views = ['pipelines', 'fields', 'rejects'] as const;

/** Do lines become fields? The pipelines in order, the fields they make, and what did not fit. */
export function Parsing() {
  const { plan } = useDraft();
  const { data: volume } = useApi<VolumeAnswer>('/api/volume?from=-1d&by=source,parsed', 15_000);
  const [view, setView] = useQueryState('view', parseAsStringEnum([...views]).withDefault('pipelines'));
  const [panel, setPanel] = useQueryState('panel');
  const all = volume?.sums.reduce((sum, row) => sum + row.events, 0) ?? 0;
  const unparsed = volume?.sums.filter((row) => !row.parsed) ?? [];
  const worst = [...unparsed].sort((a, b) => b.events - a.events)[0];
  return (
    <WithPanel
      open={panel !== null}
      title={panel === 'kits' ? 'Starter kits' : 'The plan as text'}
      onClose={() => void setPanel(null)}
      panel={panel === 'kits' ? <KitsPanel /> : <PlanTextPanel />}
    >
      <Sentence>
        {volume && plan ? (
          <>
            <Figure>{percent(all > 0 ? 1 - unparsed.reduce((sum, row) => sum + row.events, 0) / all : 1)}</Figure> of
            events become fields in <Figure>{formatCount(plan.pipelines.length)}</Figure> pipelines
            {worst && worst.events > 0 && (
              <>
                ; most that do not are from <Figure to={`/sources/${worst.source}`}>{worst.source}</Figure>
              </>
            )}
            .
          </>
        ) : (
          <>
            <FigurePending /> of events become fields in <FigurePending /> pipelines.
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
