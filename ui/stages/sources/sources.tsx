'use client';

import { parseAsStringEnum, useQueryState } from 'nuqs';
import type { SourcesAnswer } from '#core/answers/sources.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Problem } from '../../kit/section.tsx';
import { Figure, FigurePending, Sentence } from '../../kit/sentence.tsx';
import { ConnectPanel } from './connect-panel.tsx';
import { EmitterTable } from './emitter-table.tsx';
import { FleetsPanel } from './fleets-panel.tsx';
import { MaintenancePanel } from './maintenance-panel.tsx';
import { RateTable } from './rate-table.tsx';
import { SilentGroups } from './silent-groups.tsx';
import { SourceTable } from './source-table.tsx';
import { Unclaimed } from './unclaimed.tsx';

const views = ['sources', 'emitters', 'rates'] as const;

/** Who sends what, and who has gone quiet? */
export function Sources() {
  const { data, error } = useApi<SourcesAnswer>('/api/sources', 5_000);
  const [connect, setConnect] = useQueryState('connect');
  const [panel, setPanel] = useQueryState('panel');
  const [view, setView] = useQueryState('view', parseAsStringEnum([...views]).withDefault('sources'));
  const close = (): void => {
    void setConnect(null);
    void setPanel(null);
  };
  const open =
    connect !== null
      ? 'Connect a source'
      : panel === 'fleets'
        ? 'Fleets'
        : panel === 'maintenance'
          ? 'Maintenance'
          : '';
  return (
    <WithPanel
      open={open !== ''}
      title={open}
      onClose={close}
      panel={connect !== null ? <ConnectPanel /> : panel === 'fleets' ? <FleetsPanel /> : <MaintenancePanel />}
    >
      <SourcesSentence data={data} />
      <div className="mt-4 mb-2 flex items-center gap-3">
        <Choice
          label="What to list"
          value={view}
          onChange={(next) => void setView(next)}
          options={[
            { value: 'sources', title: 'Sources' },
            { value: 'emitters', title: 'Emitters' },
            { value: 'rates', title: 'Rates' },
          ]}
        />
        <span className="flex-1" />
        <Button onClick={() => void setPanel('fleets')}>Fleets</Button>
        <Button onClick={() => void setPanel('maintenance')}>Maintenance</Button>
        <Button look="main" onClick={() => void setConnect('1')}>
          Connect a source
        </Button>
      </div>
      {error && <Problem>{error.message}</Problem>}
      {data && data.sources.length === 0 && (
        <Nothing title="No source is connected yet.">
          <p>Connect one to get its token and the command to paste on the sender.</p>
        </Nothing>
      )}
      {view === 'emitters' && <EmitterTable />}
      {view === 'rates' && <RateTable />}
      {data && view === 'sources' && (
        <>
          <SilentGroups groups={data.groups} />
          {data.sources.length > 0 && <SourceTable sources={data.sources} />}
          <Unclaimed />
        </>
      )}
      {data && data.leftOut > 0 && (
        <p className="mt-3 text-caution">
          ▲ More emitters send than are followed one by one; {formatCount(data.leftOut)} reports went uncounted here.
          All their events are kept.
        </p>
      )}
    </WithPanel>
  );
}

function SourcesSentence({ data }: { readonly data: SourcesAnswer | undefined }) {
  if (!data) {
    return (
      <Sentence>
        <FigurePending /> sources send <FigurePending />.
      </Sentence>
    );
  }
  const { sources } = data;
  const silent = sources.reduce((sum, source) => sum + source.emitters.silent, 0);
  const silentSources = sources.filter(({ health }) => health?.state === 'silent').length;
  return (
    <Sentence>
      <Figure>{sources.length}</Figure> sources with{' '}
      <Figure to="/sources?view=emitters">
        {formatCount(sources.reduce((sum, source) => sum + source.emitters.all, 0))} emitters
      </Figure>{' '}
      send <Figure>{formatCount(sources.reduce((sum, source) => sum + source.eventsPerSecond, 0))} events/s</Figure> and{' '}
      <Figure>{formatBytes(sources.reduce((sum, source) => sum + source.day.bytes, 0))}</Figure> a day;{' '}
      {silent + silentSources === 0 ? (
        'none is silent'
      ) : (
        <Figure needs to="/sources?view=emitters&state=silent">
          {silentSources > 0 ? `${silentSources} sources and ` : ''}
          {silent} emitters
        </Figure>
      )}
      {silent + silentSources > 0 && ' are silent'}.
    </Sentence>
  );
}
