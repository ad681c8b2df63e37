'use client';

import Link from 'next/link';
import { type ReactNode, useState } from 'react';
import { formatBytes } from '#core/events/units.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { ago } from '../../kit/times/times.ts';
import { FirstEvents } from '../sources/first-events.tsx';
import { LoadDemo } from './demo-data.tsx';

/** Logs of this machine that are listed. */
const mostListed = 4;

/** The way in, where nothing has arrived yet: the ways in which events can come, each a click from its first one. */
export function FirstSource() {
  return (
    <div className="mt-6 grid grid-cols-2 gap-x-10 gap-y-8">
      <Way title="Send from an application" hint="JSON lines or text over HTTP, with a token of its own.">
        <FromApplication />
      </Way>
      <Way title="Follow a log of this machine" hint="Files are followed as they grow and rotate.">
        <FromFile />
      </Way>
      <Way title="Receive syslog" hint="RFC 5424 and 3164, over UDP, TCP or TLS.">
        <Go to="/sources?connect=1&kind=syslog">Set up syslog</Go>
      </Way>
      <Way title="Upload a sample" hint="A file of lines, JSON lines or CSV, to try things out.">
        <Go to="/sources?connect=1&kind=upload">Upload a file</Go>
      </Way>
      <Way title="Export from OpenTelemetry" hint="Logs over OTLP/HTTP, protobuf or JSON.">
        <Go to="/sources?connect=1&kind=otlp">Set up an exporter</Go>
      </Way>
      <Way title="Pick up objects" hint="Files in an object store or a folder, each read once.">
        <Go to="/sources?connect=1&kind=objects">Set up a pick-up</Go>
      </Way>
      <Way
        title="Look around first"
        hint="Two weeks of events of a made-up ferry company, with its plan and prices. They can be removed again."
      >
        <LoadDemo />
      </Way>
    </div>
  );
}

function Way(props: { readonly title: string; readonly hint: string; readonly children: ReactNode }) {
  return (
    <section aria-label={props.title} className="min-w-0 border-t border-hair pt-3">
      <h2>{props.title}</h2>
      <p className="mb-2 text-[12.5px] text-second">{props.hint}</p>
      {props.children}
    </section>
  );
}

function Go({ to, children }: { readonly to: string; readonly children: ReactNode }) {
  return (
    <Link href={to} className="text-mark underline">
      {children}
    </Link>
  );
}

/** Creates a source with a click, shows the command that sends to it, and waits for the first event. */
function FromApplication() {
  const { data } = useQuestion('sources', {});
  const [made, setMade] = useState<{ readonly name: string; readonly token: string } | undefined>();
  const [failed, setFailed] = useState('');
  if (made) return <FirstEvents name={made.name} token={made.token} kind="http" />;
  const create = async (): Promise<void> => {
    const names = new Set(data?.sources.map(({ name }) => name));
    let name = 'my-app';
    for (let i = 2; names.has(name); i++) name = `my-app-${i}`;
    try {
      setMade(await call('makeSource', { name, kind: 'http' }));
      await refresh('sources');
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The source could not be created.');
    }
  };
  return (
    <>
      <Button look="main" onClick={() => void create()}>
        Create source and token
      </Button>
      {failed !== '' && <Problem>{failed}</Problem>}
    </>
  );
}

/** The latest logs in the folders that may be read, each leading to a source that follows it. */
function FromFile() {
  const { data } = useQuestion('files', {});
  if (!data) return null;
  if (data.files.length === 0)
    return (
      <p className="text-[12.5px]">
        No logs found in the allowed folders. <Go to="/sources?connect=1&kind=files">Enter a path</Go>
      </p>
    );
  return (
    <ul className="border-b border-hair text-[12.5px]">
      {data.files.slice(0, mostListed).map(({ path, size, changedAt, lastLine }) => (
        <li key={path} className="border-t border-hair py-1">
          <span className="flex justify-between gap-3">
            <Link
              href={`/sources?${new URLSearchParams({ connect: '1', kind: 'files', files: `${path}*` })}`}
              className="min-w-0 truncate text-mark underline"
            >
              {path}
            </Link>
            <span className="shrink-0 text-second">
              {formatBytes(size)} · {ago(changedAt)}
            </span>
          </span>
          {lastLine !== '' && <span className="line block truncate text-second">{lastLine}</span>}
        </li>
      ))}
    </ul>
  );
}
