'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { object, string } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { detectors } from '#core/masks/index.ts';
import { amountOf } from '#core/routing/volume-sums.ts';
import type { SourceAnswer } from '../../data/answers.ts';
import { call, refresh } from '../../data/client.ts';
import { conditionShape } from '../../data/source-requests.ts';
import { Button } from '../../kit/button.tsx';
import { Form, TextInput, TimeInput, timeText } from '../../kit/form.tsx';
import { Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { UploadField } from './first-events.tsx';
import { readLabels, writeLabels } from './labels.ts';
import { ReadAgain } from './read-again.tsx';
import { RemoveSource } from './remove-source.tsx';
import { SetupSnippet } from './setup-snippet.tsx';
import { labelsText } from './source-form.ts';

interface Props {
  readonly name: string;
  readonly data: SourceAnswer;
}

async function save(name: string, body: object): Promise<void> {
  try {
    await call('changeSource', { name, ...body });
    await refresh('source');
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'The source could not be saved.');
  }
}

/** How a source is set up: what to paste, tokens, owner and labels, masks, files and objects, and its end. */
export function SourceSettings({ name, data }: Props) {
  const { kind } = data.source;
  return (
    <>
      {(kind === 'http' || kind === 'otlp' || kind === 'syslog') && <Tokens name={name} data={data} />}
      {kind === 'upload' && (
        <Section title="Upload" className="mt-5">
          <UploadField name={name} />
        </Section>
      )}
      {(kind === 'files' || kind === 'objects') && <Reading name={name} data={data} />}
      <Facts name={name} data={data} />
      <Masks name={name} data={data} />
      <End name={name} data={data} />
    </>
  );
}

function Tokens({ name, data }: Props) {
  const [token, setToken] = useState<string | undefined>();
  const ask = async (body: object): Promise<void> => {
    const made = await call('addToken', { name, ...body });
    setToken(made.token);
    await refresh('source');
  };
  const revoke = async (id: number): Promise<void> => {
    await call('endToken', { name, id });
    await refresh('source');
  };
  return (
    <Section title="Set-up" className="mt-5">
      <SetupSnippet
        kind={data.source.kind}
        name={name}
        intakePort={data.intakePort}
        syslogPort={data.syslogPort}
        syslogTlsPort={data.syslogTlsPort}
        {...(token && { token })}
      />
      {token && <p className="text-well">✓ The new token is in the command above. It is shown only once.</p>}
      {data.source.kind !== 'syslog' && (
        <>
          <ul>
            {data.tokens.map((token) => (
              <li key={token.id} className="flex items-center gap-1 border-t border-hair py-0.5 text-[12.5px]">
                <span className="flex-1">
                  token …{token.hint} since {dayAndMinute(token.createdAt)}
                  {token.expiresAt !== null && (
                    <span className="text-caution"> · ends {dayAndMinute(token.expiresAt)}</span>
                  )}
                </span>
                {token.expiresAt === null && (
                  <Button
                    look="quiet"
                    className="px-1!"
                    title="Rotate: new token, this one stays valid for 24 h"
                    onClick={() => void ask({ replaces: token.id, overlap: 86_400_000 })}
                  >
                    Rotate
                  </Button>
                )}
                <Button look="danger" className="px-1!" onClick={() => void revoke(token.id)}>
                  Revoke
                </Button>
              </li>
            ))}
          </ul>
          <Button className="mt-1" onClick={() => void ask({})}>
            Add token
          </Button>
        </>
      )}
    </Section>
  );
}

async function tryAgain(name: string): Promise<void> {
  try {
    await call('tryObjectsAgain', { name });
    await refresh('source');
    toast('Retrying within seconds.');
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'The objects could not be retried.');
  }
}

/** How far files and objects have been read, and reading them again. */
function Reading({ name, data }: Props) {
  const wrong = data.objects.filter(({ problem }) => problem !== '');
  return (
    <Section title="What it reads" className="mt-5">
      {data.source.settings.globs?.map((glob) => (
        <p key={glob} className="line break-all border-t border-hair py-1">
          {glob}
        </p>
      ))}
      {data.source.settings.url && (
        <p className="line break-all border-t border-hair py-1">{data.source.settings.url}</p>
      )}
      <ul className="max-h-[180px] overflow-auto border-y border-hair text-[12.5px]">
        {data.positions.map((position) => (
          <li key={`${position.path} ${position.changedAt}`} className="py-0.5">
            <span className="flex justify-between gap-2">
              <span className="truncate" title={position.path}>
                {position.path.split('/').pop()}
              </span>
              <span className="shrink-0 text-second">{formatBytes(position.offset)} read</span>
            </span>
            {position.note !== '' && <span className="block text-caution">▲ {position.note}</span>}
          </li>
        ))}
        {data.source.kind === 'objects' && (
          <li className="py-0.5">
            {formatCount(data.objects.length - wrong.length)} objects picked up,{' '}
            {formatCount(data.objects.reduce((sum, { records }) => sum + records, 0))} records
          </li>
        )}
        {wrong.map((object) => (
          <li key={object.identity} className="py-0.5">
            <span className={object.retryAt === null ? 'text-danger' : 'text-caution'}>
              {object.retryAt === null ? '◆' : '▲'} {object.name} {object.problem}
            </span>{' '}
            <span className="text-second">
              {object.attempts > 0 && `after ${object.attempts} ${object.attempts === 1 ? 'attempt' : 'attempts'}`}
              {object.retryAt !== null && `; next at ${dayAndMinute(object.retryAt)}`}
            </span>
          </li>
        ))}
      </ul>
      {wrong.some(({ retryAt, name: of }) => retryAt !== null || of !== '') && (
        <Button look="quiet" className="-ml-3" onClick={() => void tryAgain(name)}>
          Retry failed objects
        </Button>
      )}
      <ReadAgain name={name} kind={data.source.kind} />
    </Section>
  );
}

const factsStart = { owner: '', labels: '', accepts: '' };
const factsShape = object({
  owner: string().defined().max(64, 'At most 64 characters.'),
  labels: labelsText,
  accepts: conditionShape.defined(),
});

function Facts({ name, data }: Props) {
  const [editing, setEditing] = useState(false);
  if (editing) {
    const { owner, labels, accepts, kind } = data.source;
    const keep = async (fields: typeof factsStart): Promise<void> => {
      await call('changeSource', { name, ...fields, labels: readLabels(fields.labels) });
      await refresh('source');
      setEditing(false);
    };
    return (
      <Section title="Owner and labels" className="mt-5">
        <Form
          label="Owner and labels"
          shape={factsShape}
          start={{ owner, labels: writeLabels(labels), accepts }}
          onSend={keep}
          submit="Save"
          beside={<Button onClick={() => setEditing(false)}>Leave</Button>}
        >
          <TextInput name="owner" label="Owner team" />
          <TextInput name="labels" label="Labels" mono />
          {kind === 'syslog' && <TextInput name="accepts" label="Messages of this source" mono />}
        </Form>
      </Section>
    );
  }
  return (
    <Section
      title="Owner and labels"
      className="mt-5"
      aside={
        <Button look="quiet" className="px-1!" onClick={() => setEditing(true)}>
          Change
        </Button>
      }
    >
      <dl className="grid grid-cols-[90px_1fr] gap-y-1 border-y border-hair py-2 text-[12.5px]">
        <dt className="text-second">owner</dt>
        <dd>{data.source.owner || '–'}</dd>
        <dt className="text-second">labels</dt>
        <dd>
          {Object.entries(data.source.labels)
            .map(([key, value]) => `${key} = ${value}`)
            .join(', ') || '–'}
        </dd>
        {data.source.kind === 'syslog' && (
          <>
            <dt className="text-second">Messages</dt>
            <dd className="line">{data.source.accepts || '–'}</dd>
          </>
        )}
      </dl>
      {data.source.kind !== 'files' && data.source.kind !== 'objects' && (
        <ReadAgain name={name} kind={data.source.kind} />
      )}
    </Section>
  );
}

/** What is masked at the intake, before anything is kept. */
function Masks({ name, data }: Props) {
  const masks = data.source.settings.masks ?? [];
  const [find, setFind] = useState('card');
  const [how, setHow] = useState('hash');
  const set = (next: readonly object[]): Promise<void> => save(name, { settings: { masks: next } });
  const scrub = async (): Promise<void> => {
    const { changed } = await call('scrubTape', { name });
    toast(`${formatCount(changed)} lines on the tape were masked.`);
  };
  return (
    <Section title="Masked at the intake" className="mt-5">
      <ul className="text-[12.5px]">
        {masks.map((mask, index) => (
          <li key={`${mask.find} ${mask.after}`} className="flex items-center border-t border-hair py-0.5">
            <span className="flex-1">
              {mask.after ? `what follows ${mask.after}` : detectors.get(mask.find ?? '')?.title} · {mask.with}
            </span>
            <Button look="quiet" className="px-1!" onClick={() => void set(masks.filter((_, i) => i !== index))}>
              Remove
            </Button>
          </li>
        ))}
        {masks.length === 0 && (
          <li className="border-t border-hair py-1 text-second">No masks: lines are kept as they arrive.</li>
        )}
      </ul>
      <div className="flex items-center gap-2 border-t border-hair pt-2">
        <Select
          label="What to mask"
          isLabelHidden
          value={find}
          options={[...detectors.values()].map(({ id, title }) => ({ value: id, title }))}
          onChange={setFind}
          className="min-w-0 flex-1 text-[12.5px]"
        />
        <Select
          label="How to mask it"
          isLabelHidden
          value={how}
          options={[
            { value: 'hash', title: 'as a hash' },
            { value: 'last-four', title: 'last four characters' },
            { value: 'remove', title: 'remove' },
          ]}
          onChange={setHow}
          className="text-[12.5px]"
        />
        <Button onClick={() => void set([...masks, { find, with: how }])}>Mask</Button>
      </div>
      {masks.length > 0 && (
        <Button look="quiet" className="-ml-3" onClick={() => void scrub()}>
          Mask what is already on the tape
        </Button>
      )}
    </Section>
  );
}

const backShape = object({
  back: timeText.test(
    'later',
    'This time has passed.',
    (text) => !text || (parseTime(text, Date.now()) ?? 0) > Date.now(),
  ),
});

/** Announced absence, retirement, and removal. */
function End({ name, data }: Props) {
  const { retired = false, expectedBack } = data.source.settings;
  return (
    <Section title="Absence" className="mt-5">
      <div className="flex flex-col gap-2 border-t border-hair pt-2">
        {expectedBack && expectedBack > Date.now() && <p>Expected back {dayAndMinute(expectedBack)}.</p>}
        <Form
          label="Expected back at"
          shape={backShape}
          start={{ back: '' }}
          onSend={({ back }) => save(name, { settings: { expectedBack: parseTime(back, Date.now()) } })}
          submit="Save"
          clears
        >
          <TimeInput name="back" label="Expected back" placeholder="2026-11-24T08:15" />
        </Form>
        <div>
          <Button look="quiet" className="-ml-3" onClick={() => void save(name, { settings: { retired: !retired } })}>
            {retired ? 'Expect it again' : 'Retire source'}
          </Button>
        </div>
        <div>
          <RemoveSource name={name} received={formatBytes(amountOf(data.hours).bytes)} />
        </div>
      </div>
    </Section>
  );
}
