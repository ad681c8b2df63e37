'use client';

import { useQueryState } from 'nuqs';
import { type FormEvent, useState } from 'react';
import { mutate } from 'swr';
import { stackTraceRule } from '#core/formats/join.ts';
import { callApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { FirstEvents } from './first-events.tsx';
import { readLabels } from './labels.ts';

/** How a source can send, with what that means in a few words. */
const kinds: readonly (readonly [kind: string, title: string, hint: string])[] = [
  ['http', 'HTTP', 'JSON lines or text, posted with a token'],
  ['otlp', 'OTLP/HTTP', 'an OpenTelemetry exporter'],
  ['syslog', 'Syslog', 'over UDP, TCP or TLS'],
  ['files', 'Followed files', 'log files on this machine, as they grow and rotate'],
  ['objects', 'Picked-up objects', 'files in an object store or a folder, each once'],
  ['upload', 'Uploaded sample', 'a file of yours, to try things out on'],
];

/** Names a new source, sets it up for its kind, makes it, and then waits with the engineer for its first event. */
export function ConnectPanel() {
  const [kind, setKind] = useQueryState('kind', { defaultValue: 'http' });
  const [claimed] = useQueryState('claim', { defaultValue: '' });
  const [name, setName] = useState(claimed);
  const [owner, setOwner] = useState('');
  const [labels, setLabels] = useState('');
  const [accepts, setAccepts] = useState('');
  const [globs, setGlobs] = useState('');
  const [join, setJoin] = useState('');
  const [url, setUrl] = useState('');
  const [path, setPath] = useState('');
  const [failed, setFailed] = useState('');
  const [made, setMade] = useState<{ readonly name: string; readonly token: string } | undefined>();
  const settings = (): object => {
    if (kind === 'files') {
      const rule = join === 'traces' ? stackTraceRule : join === '' ? undefined : { starts: join };
      return {
        globs: globs
          .split('\n')
          .map((line) => line.trim())
          .filter(Boolean),
        ...(rule && { join: rule }),
      };
    }
    return kind === 'objects' ? { url, ...(path !== '' && { path }) } : {};
  };
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setFailed('');
    try {
      const own = kind === 'syslog' ? { accepts: accepts || `app = ${name}` } : {};
      const body = { name, kind, owner, labels: readLabels(labels), settings: settings(), ...own };
      setMade(await callApi('/api/sources', { method: 'POST', body: JSON.stringify(body) }));
      await mutate('/api/sources');
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The source could not be made.');
    }
  };
  if (made) return <FirstEvents name={made.name} token={made.token} kind={kind} />;
  return (
    <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-3.5">
      <fieldset>
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
              onChange={() => void setKind(value)}
              className="accent-mark"
            />
            <span>
              <b className="font-[650]">{title}</b> <span className="text-[12px] text-second">{hint}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <TextField
        label="Name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        placeholder="ticket-printer"
        required
        pattern="[a-z0-9][a-z0-9\-]*"
        title="small letters, digits and dashes"
      />
      <div className="flex gap-3">
        <TextField
          label="Owner team"
          value={owner}
          onChange={(event) => setOwner(event.target.value)}
          placeholder="piers"
          className="w-[110px]"
        />
        <TextField
          label="Labels"
          mono
          value={labels}
          onChange={(event) => setLabels(event.target.value)}
          placeholder="site=pier-4, environment=prod"
          className="flex-1"
        />
      </div>
      {kind === 'syslog' && (
        <TextField
          mono
          label="Which messages are its own"
          value={accepts}
          onChange={(event) => setAccepts(event.target.value)}
          placeholder={`app = ${name || 'ticket-printer'}`}
        />
      )}
      {kind === 'files' && <FileFields globs={globs} onGlobs={setGlobs} join={join} onJoin={setJoin} />}
      {kind === 'objects' && (
        <>
          <TextField
            mono
            label="Address of the list"
            required
            value={url}
            onChange={(event) => setUrl(event.target.value)}
            placeholder="http://127.0.0.1:9400/archive/ or file:///var/drop"
          />
          <TextField
            mono
            label="Template of object names, for labels"
            value={path}
            onChange={(event) => setPath(event.target.value)}
            placeholder="{site}/{day}/{}"
          />
        </>
      )}
      {failed !== '' && <Problem>{failed}</Problem>}
      <div>
        <Button type="submit" look="main">
          Make the source
        </Button>
      </div>
    </form>
  );
}

function FileFields(props: {
  readonly globs: string;
  readonly onGlobs: (text: string) => void;
  readonly join: string;
  readonly onJoin: (rule: string) => void;
}) {
  const choice = props.join === '' || props.join === 'traces' ? props.join : 'own';
  return (
    <>
      <label className="block">
        <span className="block text-[12.5px] font-semibold text-second">Files, one pattern a line</span>
        <textarea
          required
          value={props.globs}
          onChange={(event) => props.onGlobs(event.target.value)}
          placeholder="/var/log/harbour/*.log*"
          className="line mt-1 h-16 w-full rounded-[5px] border border-hair bg-sheet p-2"
        />
        <span className="text-[12px] text-second">Include rotated files: what they hold is read before they go.</span>
      </label>
      <label className="block">
        <span className="block text-[12.5px] font-semibold text-second">Lines that belong together</span>
        <select
          value={choice}
          onChange={(event) => props.onJoin(event.target.value === 'own' ? '^\\d' : event.target.value)}
          className="mt-1 rounded-[5px] border border-hair bg-sheet px-2 py-1"
        >
          <option value="">every line is an event</option>
          <option value="traces">stack traces join the line before</option>
          <option value="own">events begin with a pattern</option>
        </select>
      </label>
      {choice === 'own' && (
        <TextField
          mono
          label="First lines match"
          value={props.join}
          onChange={(event) => props.onJoin(event.target.value)}
        />
      )}
    </>
  );
}
