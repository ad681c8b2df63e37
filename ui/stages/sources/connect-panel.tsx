'use client';

import { useQueryState } from 'nuqs';
import { useState } from 'react';
import { useFormContext } from 'react-hook-form';
import type { JoinRule } from '#core/formats/join.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Form, SelectInput, TextArea, TextInput } from '../../kit/form.tsx';
import { FilesPreview } from './files-preview.tsx';
import { FirstEvents } from './first-events.tsx';
import { newSourceOf, type SourceFields, sourceShape } from './source-form.ts';

/** How a source can send, with what that means in a few words. */
const kinds: readonly (readonly [kind: string, title: string, hint: string])[] = [
  ['http', 'HTTP', 'JSON lines or text, posted with a token'],
  ['otlp', 'OTLP/HTTP', 'an OpenTelemetry exporter'],
  ['syslog', 'Syslog', 'over UDP, TCP or TLS'],
  ['files', 'Followed files', 'log files on this machine, as they grow and rotate'],
  ['objects', 'Picked-up objects', 'files in an object store or a folder, each read once'],
  ['upload', 'Uploaded sample', 'a file from your computer, to try things out'],
];

/** Names a new source, sets it up for its kind, makes it, and then waits with the engineer for its first event. */
export function ConnectPanel() {
  const [kind, setKind] = useQueryState('kind', { defaultValue: 'http' });
  const [claimed] = useQueryState('claim', { defaultValue: '' });
  const [files] = useQueryState('files', { defaultValue: '' });
  const [join, setJoin] = useState('');
  const [made, setMade] = useState<{ readonly name: string; readonly token: string } | undefined>();
  if (made) return <FirstEvents name={made.name} token={made.token} kind={kind} />;
  const send = async (fields: SourceFields): Promise<void> => {
    setMade(await call('makeSource', newSourceOf({ ...fields, kind })));
    await refresh('sources');
  };
  const start = {
    kind,
    name: claimed,
    owner: '',
    labels: '',
    accepts: '',
    globs: files,
    join: '',
    begins: '^\\d',
    url: '',
    path: '',
  };
  return (
    <>
      <KindChoice kind={kind} onChoose={(next) => void setKind(next)} />
      <Form
        key={kind}
        label="New source"
        shape={sourceShape(kind, join)}
        start={start}
        onSend={send}
        submit="Create source"
        paths={{ 'settings.globs': 'globs', 'settings.url': 'url', 'settings.path': 'path', 'settings.join': 'begins' }}
      >
        <TextInput name="name" label="Name" placeholder="ticket-printer" />
        <div className="flex gap-3">
          <TextInput name="owner" label="Owner team" placeholder="piers" className="w-[110px]" />
          <TextInput name="labels" label="Labels" mono placeholder="site=pier-4, environment=prod" className="flex-1" />
        </div>
        {kind === 'syslog' && (
          <TextInput
            name="accepts"
            label="Messages of this source"
            mono
            placeholder="app = ticket-printer"
            hint="Empty: messages of the app with its name."
          />
        )}
        {kind === 'files' && <FileFields join={join} onJoin={setJoin} />}
        {kind === 'objects' && (
          <>
            <TextInput
              name="url"
              label="Address of the list"
              mono
              placeholder="http://127.0.0.1:9400/archive/ or file:///var/drop"
            />
            <TextInput name="path" label="Template of object names, for labels" mono placeholder="{site}/{day}/{}" />
          </>
        )}
      </Form>
    </>
  );
}

/** Below which folders files may be read, as a sentence. */
function belowOf(folders: readonly string[]): string {
  return folders.length === 0 ? '' : `Files can be read below ${folders.join(' or ')}. `;
}

const joins = [
  { value: '', title: 'every line is an event' },
  { value: 'traces', title: 'join stack traces to the line before' },
  { value: 'own', title: 'events begin with a pattern' },
];

function FileFields({ join, onJoin }: { readonly join: string; readonly onJoin: (join: string) => void }) {
  const folders = useQuestion('sources', {}).data?.folders ?? [];
  const { setValue } = useFormContext<SourceFields>();
  const take = ({ starts }: JoinRule): void => {
    const chosen = starts === undefined ? 'traces' : 'own';
    setValue('join', chosen);
    if (starts !== undefined) setValue('begins', starts);
    onJoin(chosen);
  };
  return (
    <>
      <TextArea
        name="globs"
        label="Files, one pattern per line"
        mono
        placeholder={`${folders[0] ?? '/var/log'}/harbour/*.log*`}
        hint={`${belowOf(folders)}Include rotated files: what they hold is read before they go.`}
      />
      <FilesPreview onJoin={take} />
      <SelectInput name="join" label="Multi-line records" options={joins} onChosen={onJoin} />
      {join === 'own' && <TextInput name="begins" label="First line matches" mono />}
    </>
  );
}

/** How a source sends. */
function KindChoice({ kind, onChoose }: { readonly kind: string; readonly onChoose: (kind: string) => void }) {
  return (
    <fieldset className="mb-3.5">
      <legend className="mb-1 text-[12.5px] font-semibold text-second">How it sends</legend>
      {kinds.map(([value, title, hint]) => (
        <label
          key={value}
          className={`flex gap-2 border-t border-hair px-1 py-1 last:border-b ${kind === value ? 'bg-land' : ''}`}
        >
          <input
            type="radio"
            name="kind"
            value={value}
            checked={kind === value}
            onChange={() => onChoose(value)}
            className="accent-mark"
          />
          <span>
            <b className="font-[650]">{title}</b> <span className="text-[12px] text-second">{hint}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}
