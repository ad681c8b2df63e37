'use client';

import { parseAsStringEnum, useQueryState } from 'nuqs';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { SourcesAnswer, SourceView } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Problem } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { SourcesStill } from '../../kit/still-pictures.tsx';
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
  const { data, error } = useQuestion('sources', {}, 5_000);
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
        <Nothing title="Each source gets a row here." picture={<SourcesStill />}>
          <p className="mt-1 max-w-[560px]">
            It shows the course of its day, what of it is parsed, what it costs and whether it has fallen silent.
            Connect one to get a token and a command for the sender.
          </p>
          <div className="mt-3">
            <Button look="main" onClick={() => void setConnect('1')}>
              Connect the first source
            </Button>
          </div>
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
          ▲ More emitters send than can be tracked one by one; {formatCount(data.leftOut)} reports are not counted here.
          Their events are kept all the same.
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
  if (sources.length === 0) return <Sentence>No sources yet.</Sentence>;
  const sum = (of: (source: SourceView) => number): number => sources.reduce((all, source) => all + of(source), 0);
  const [known, silent, rate, bytes] = [
    sum(({ emitters }) => emitters.all),
    sum(({ emitters }) => emitters.silent),
    sum(({ eventsPerSecond }) => eventsPerSecond),
    sum(({ day }) => day.bytes),
  ];
  const silentSources = sources.filter(({ health }) => health?.state === 'silent').length;
  return (
    <Sentence>
      <Figure name="sources" over="now" unit="sources" value={sources.length}>
        {sources.length}
      </Figure>{' '}
      {sources.length === 1 ? 'source' : 'sources'} with{' '}
      <Figure name="known emitters" over="now" unit="emitters" value={known} to="/sources?view=emitters">
        {formatCount(known)} known {known === 1 ? 'emitter' : 'emitters'}
      </Figure>
      ;{' '}
      <Figure name="rate" over="last minute" unit="events/s" value={rate}>
        {formatCount(rate)} events/s
      </Figure>{' '}
      in the last minute,{' '}
      <Figure name="received" over="last 24 h" unit="bytes" value={bytes}>
        {formatBytes(bytes)}
      </Figure>{' '}
      in the last 24 h;{' '}
      {silent + silentSources === 0 ? (
        'none is silent'
      ) : (
        <Figure
          name="silent sources and emitters"
          over="now"
          unit="senders"
          value={silent + silentSources}
          needs
          to="/sources?view=emitters&state=silent"
        >
          {silentSources > 0 ? `${silentSources} ${silentSources === 1 ? 'source' : 'sources'} and ` : ''}
          {silent} {silent === 1 ? 'emitter' : 'emitters'}
        </Figure>
      )}
      {silent + silentSources > 0 && (silent + silentSources === 1 ? ' is silent' : ' are silent')}.
    </Sentence>
  );
}
