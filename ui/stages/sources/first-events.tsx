'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { JoinRule } from '#core/formats/join.ts';
import { noticeJoin } from '#core/formats/notice-join.ts';
import { pipelineFromTemplate } from '#core/kits/from-template.ts';
import { kitFor } from '#core/kits/index.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { propose } from '#core/templates/propose.ts';
import type { SourceSettings, TapeAnswer } from '../../data/answers.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { addPipeline, useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';
import { JoinedLines } from './joined-lines.tsx';
import { SetupSnippet } from './setup-snippet.tsx';

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
  const { data } = useQuestion('tape', { source: name, limit: '30' }, 1_000);
  const { data: page } = useQuestion('source', { name });
  const lines = data?.lines ?? [];
  const needsToken = kind === 'http' || kind === 'otlp';
  return (
    <div className="flex flex-col gap-4">
      <p>
        <b>{name}</b> is ready.{' '}
        {needsToken
          ? 'Run this on the sender. The token is shown only once.'
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
        <>
          {page && kind !== 'files' && (
            <JoinOffer name={name} kind={kind} settings={page.source.settings} lines={lines} />
          )}
          <Arrived name={name} lines={lines} />
        </>
      )}
    </div>
  );
}

/** If the first lines look like multi-line records cut into lines, offers to join later ones. */
function JoinOffer(props: {
  readonly name: string;
  readonly kind: string;
  readonly settings: SourceSettings;
  readonly lines: readonly TapeAnswer['lines'][number][];
}) {
  const { name, kind, settings, lines } = props;
  const written = lines.map(({ raw }) => raw).toReversed();
  if (settings.join || kind === 'otlp' || kind === 'objects') return null;
  const join = async (rule: JoinRule): Promise<void> => {
    try {
      await call('changeSource', { name, settings: { join: rule } });
      await refresh('source');
      toast('Lines of one request are joined from now on. Events that are stored already stay as they are.');
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The source could not be saved.');
    }
  };
  return <JoinedLines lines={written} onJoin={(rule) => void join(rule)} action="Join lines from now on" />;
}

/** The first lines, what they are made of, and the kit that fits them. */
function Arrived({ name, lines }: { readonly name: string; readonly lines: readonly TapeAnswer['lines'][number][] }) {
  const { change } = useDraft();
  const router = useRouter();
  const raws = lines.map((line) => line.raw);
  const proposals = propose(raws);
  const kit = kitFor(raws);
  const use = async (pipeline: PipelineDocument): Promise<void> => {
    const id = await addPipeline(change, pipeline);
    router.push(`/parsing/${id}`);
  };
  return (
    <div role="status">
      <p className="mb-1 font-semibold text-well">✓ First events received.</p>
      {proposals.slice(0, 2).map((proposal) => (
        <div key={proposal.value} className="text-[12.5px]">
          {percent(proposal.share)} fit: <b>{proposal.title}</b>
          {proposal.kind === 'template' && (
            <div className="flex items-center gap-3">
              <code className="line min-w-0 flex-1 break-words">{proposal.value}</code>
              {!kit && (
                <Button
                  look="quiet"
                  className="shrink-0"
                  onClick={() => void use(pipelineFromTemplate(proposal.value, name))}
                >
                  Add to draft
                </Button>
              )}
            </div>
          )}
        </div>
      ))}
      {proposals.length === 0 && <p className="text-[12.5px]">Plain text: a pipeline extracts fields.</p>}
      {kit && (
        <div className="my-2 border-y border-hair py-2">
          <p>
            The starter kit <b>{kit.title}</b> fits.
          </p>
          <p className="text-[12.5px] text-second">{kit.help}</p>
          <Button look="main" className="mt-2" onClick={() => void use(kit.pipeline(name))}>
            Add to draft
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

/** How much of a file is looked at before it is uploaded, in bytes. */
const looksAt = 128 * 1024;

/** Takes a sample file; where its lines look like multi-line records, they can be joined before it is uploaded. */
export function UploadField({ name }: { readonly name: string }) {
  const [failed, setFailed] = useState('');
  const [chosenFile, setChosenFile] = useState<
    { readonly file: File; readonly lines: readonly string[] } | undefined
  >();
  const send = async (file: File, rule?: JoinRule): Promise<void> => {
    setFailed('');
    setChosenFile(undefined);
    try {
      if (rule) await call('changeSource', { name, settings: { join: rule } });
      toast(uploaded(await call('upload', { name, file: file.name }, { body: file })));
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The file could not be uploaded.');
    }
  };
  const choose = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    const text = await file.slice(0, looksAt).text();
    const lines = /\.(csv|gz)$/i.test(file.name) ? [] : text.split(/\r?\n/).slice(0, -1);
    if (noticeJoin(lines)) setChosenFile({ file, lines });
    else await send(file);
  };
  return (
    <div>
      <label className="block">
        <span className="block text-[12.5px] font-semibold text-second">
          A file of lines, JSON lines or CSV; gzip is fine
        </span>
        <input type="file" className="mt-1 block w-full" onChange={(event) => void choose(event.target.files?.[0])} />
      </label>
      {chosenFile && (
        <div className="mt-2">
          <JoinedLines
            lines={chosenFile.lines}
            onJoin={(rule) => void send(chosenFile.file, rule)}
            action="Upload with joined lines"
          />
          <Button className="mt-2" onClick={() => void send(chosenFile.file)}>
            Upload line by line
          </Button>
        </div>
      )}
      {failed !== '' && <Problem>{failed}</Problem>}
    </div>
  );
}

function uploaded({ accepted, rejected, isKnown }: { accepted: number; rejected: number; isKnown?: true }): string {
  if (isKnown) return `This file is known already: its ${accepted.toLocaleString('en')} events were not stored again.`;
  return `${accepted.toLocaleString('en')} events accepted, ${rejected} lines could not be read.`;
}
