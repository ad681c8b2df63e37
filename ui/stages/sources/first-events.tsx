'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { TapeAnswer } from '#core/answers/sources.ts';
import { kitFor } from '#core/kits/index.ts';
import { propose } from '#core/templates/propose.ts';
import { addPipeline, useDraft } from '../../data/draft.ts';
import { callApi, useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { percent } from '../../kit/times.ts';
import { type SetupPorts, SetupSnippet } from './setup-snippet.tsx';

/** Waits with the engineer for the first events of a new source, and says what was detected in them. */
export function FirstEvents({
  name,
  token,
  kind,
}: {
  readonly name: string;
  readonly token: string;
  readonly kind: string;
}) {
  const { data } = useApi<TapeAnswer>(`/api/tape?source=${name}&limit=30`, 1_000);
  const { data: page } = useApi<SetupPorts>(`/api/sources/${name}`);
  const lines = data?.lines ?? [];
  const needsToken = kind === 'http' || kind === 'otlp';
  return (
    <div className="flex flex-col gap-4">
      <p>
        <b>{name}</b> is ready.{' '}
        {needsToken
          ? 'Paste this on the sender. The token is shown this once.'
          : kind === 'syslog'
            ? 'Point the sender at this address.'
            : ''}
      </p>
      {page && (
        <SetupSnippet
          kind={kind}
          name={name}
          token={token}
          intakePort={page.intakePort}
          syslogPort={page.syslogPort}
          syslogTlsPort={page.syslogTlsPort}
        />
      )}
      {kind === 'upload' && <UploadField name={name} />}
      {lines.length === 0 ? (
        <p role="status" className="flex items-center gap-2 text-second">
          <span aria-hidden="true" className="size-2 animate-pulse rounded-full bg-mark" />
          Waiting for the first event …
        </p>
      ) : (
        <Arrived name={name} lines={lines} />
      )}
    </div>
  );
}

/** The first lines, what they are made of, and the kit that fits them. */
function Arrived({ name, lines }: { readonly name: string; readonly lines: readonly TapeAnswer['lines'][number][] }) {
  const { change } = useDraft();
  const router = useRouter();
  const raws = lines.map((line) => line.raw);
  const proposals = propose(raws);
  const kit = kitFor(raws);
  const use = async (): Promise<void> => {
    if (!kit) return;
    const id = await addPipeline(change, kit.pipeline(name));
    router.push(`/parsing/${id}`);
  };
  return (
    <div role="status">
      <p className="mb-1 font-semibold text-well">✓ The first events are here.</p>
      {proposals.slice(0, 2).map((proposal) => (
        <p key={proposal.value} className="text-[12.5px]">
          {percent(proposal.share)} fit: <b>{proposal.title}</b>
        </p>
      ))}
      {proposals.length === 0 && <p className="text-[12.5px]">Plain text: fields come from a pipeline.</p>}
      {kit && (
        <div className="my-2 border-y border-hair py-2">
          <p>
            The starter kit <b>{kit.title}</b> fits.
          </p>
          <p className="text-[12.5px] text-second">{kit.help}</p>
          <Button look="main" className="mt-2" onClick={() => void use()}>
            Use it in the draft
          </Button>
        </div>
      )}
      {lines.slice(0, 5).map((line) => (
        <p key={`${line.received} ${line.raw}`} className="line truncate border-t border-hair py-1">
          {line.raw}
        </p>
      ))}
    </div>
  );
}

/** Takes a sample file. */
export function UploadField({ name }: { readonly name: string }) {
  const [failed, setFailed] = useState('');
  const send = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setFailed('');
    try {
      const query = new URLSearchParams({ file: file.name });
      const answer = await callApi<{ readonly accepted: number; readonly rejected: number }>(
        `/api/sources/${name}/upload?${query}`,
        { method: 'POST', body: file, headers: { 'content-type': 'application/octet-stream' } },
      );
      toast(`${answer.accepted.toLocaleString('en')} events were taken, ${answer.rejected} lines could not be read.`);
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The file could not be taken.');
    }
  };
  return (
    <label className="block">
      <span className="block text-[12.5px] font-semibold text-second">
        A file of lines, JSON lines or CSV; gzip is fine
      </span>
      <input type="file" className="mt-1 block w-full" onChange={(event) => void send(event.target.files?.[0])} />
      {failed !== '' && <Problem>{failed}</Problem>}
    </label>
  );
}
