'use client';

import Link from 'next/link';
import { toast } from 'sonner';
import { equals } from '#core/conditions/write.ts';
import { severityWord } from '#core/events/severity.ts';
import { formatBytes, formatDuration } from '#core/events/units.ts';
import { fieldsOf } from '#core/plan/event-fields.ts';
import { runTest } from '#core/plan/run-tests.ts';
import type { FoundEvent } from '#core/search/found-event.ts';
import type { EventAnswer } from '../../../data/answers.ts';
import { useQuestion } from '../../../data/client.ts';
import { useDraft, withPipeline } from '../../../data/draft.ts';
import { Button } from '../../../kit/button.tsx';
import { Problem, Section } from '../../../kit/section.tsx';
import { clock, dayOf, inOtherZone } from '../../../kit/times/times.ts';
import { inWords } from './value-in-words.ts';

/** Everything about one event: what it says, how it arrived, and which way it went. */
export function EventPanel(props: {
  readonly id: string;
  readonly onAdd: (part: string) => void;
  readonly onAround: () => void;
}) {
  const { data, error } = useQuestion('event', { id: props.id });
  if (error) return <Problem>{error.message}</Problem>;
  if (!data) return <p className="text-second">Looking for the event …</p>;
  const { event, origin } = data;
  return (
    <>
      <p>
        <time title={inOtherZone(event.time)}>
          {dayOf(event.time)}, <span className="line">{clock(event.time)}</span>
        </time>
        {event.severity > 0 && `, ${severityWord(event.severity)}`}
        {event.weight > 1 && <span className="text-mark"> · stands for ≈ {Math.round(event.weight)}</span>}
      </p>
      <div className="my-2 flex flex-wrap gap-x-4">
        <Button look="quiet" className="-ml-3" onClick={props.onAround}>
          What happened around it
        </Button>
        <CopyAsJson event={event} />
      </div>
      <Section title="As it arrived">
        <Arrived answer={data} />
      </Section>
      <Section title="Fields" className="mt-4">
        <Fields event={event} onAdd={props.onAdd} />
      </Section>
      <Section title="Its path" className="mt-4">
        <Way answer={data} />
      </Section>
      <KeepAsTest event={event} origin={origin} />
    </>
  );
}

function CopyAsJson({ event }: { readonly event: FoundEvent }) {
  const copy = async (): Promise<void> => {
    const { units: _, ...plain } = event;
    const text = JSON.stringify(
      { ...plain, time: inOtherZone(event.time), received: inOtherZone(event.received) },
      undefined,
      2,
    );
    await navigator.clipboard.writeText(text).then(
      () => toast('Event copied.'),
      () => toast.error('The browser does not allow copying.'),
    );
  };
  return (
    <Button look="quiet" className="-ml-3" onClick={() => void copy()}>
      Copy as JSON
    </Button>
  );
}

function Arrived({ answer: { event, origin } }: { readonly answer: EventAnswer }) {
  const late = event.received - event.time;
  return (
    <>
      {origin.raw === undefined ? (
        <p className="text-[12.5px] text-second">
          Its original record is not on the tape, a sample of arrivals that is kept for a day.
          {event.body !== '' && ' Its body is stored:'}
        </p>
      ) : null}
      {(origin.raw ?? event.body) !== '' && (
        <pre className="line max-h-40 overflow-auto border-l-2 border-d3 bg-paper px-2 py-1 text-[12.5px] break-all whitespace-pre-wrap">
          {origin.raw ?? event.body}
        </pre>
      )}
      <p className="mt-1 text-[12.5px] text-second">
        Received <time title={inOtherZone(event.received)}>{clock(event.received)}</time>
        {Math.abs(late) >= 1 &&
          `, ${formatDuration(Math.abs(late) / 1_000)} ${late > 0 ? 'after' : 'before'} its own time`}
        {event.size > 0 && `, ${formatBytes(event.size)}`}.
      </p>
    </>
  );
}

function Fields({ event, onAdd }: { readonly event: FoundEvent; readonly onAdd: (part: string) => void }) {
  const fields: readonly (readonly [string, string | number | boolean])[] = [
    ['source', event.source],
    ...(event.emitter === '' ? [] : [['emitter', event.emitter] as const]),
    ...(event.severity > 0 ? [['severity', severityWord(event.severity)] as const] : []),
    ...(event.shape ? [['shape', event.shape] as const] : []),
    ...Object.entries(event.attributes),
  ];
  return (
    <table className="w-full table-fixed text-[12.5px]">
      <thead className="sr-only">
        <tr>
          <th scope="col">Field</th>
          <th scope="col">Value</th>
          <th scope="col">Type</th>
        </tr>
      </thead>
      <tbody>
        {fields.map(([name, value]) => (
          <tr key={name} className="border-t border-hair align-baseline">
            <th scope="row" className="line w-[36%] pr-2 text-left font-normal break-all text-second">
              {name}
            </th>
            <td className="line">
              <button
                type="button"
                title="Filter by this value"
                className="min-h-6 max-w-full text-left break-all hover:text-mark hover:underline"
                onClick={() => onAdd(name === 'severity' ? `severity = ${value}` : equals(name, value))}
              >
                {inWords(value, event.units[name])}
              </button>
            </td>
            <td className="w-[68px] pl-2 text-right text-second">{typeOf(value, event.units[name])}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function typeOf(value: string | number | boolean, unit: string | undefined): string {
  if (unit !== undefined) return unit;
  return typeof value === 'string' ? 'text' : typeof value === 'number' ? 'number' : 'yes or no';
}

const linkLook = 'underline hover:text-mark';

function Way({ answer: { event, origin, revision } }: { readonly answer: EventAnswer }) {
  const { pipelines, tier, raw } = origin;
  return (
    <ol className="list-decimal pl-5 text-[13px]">
      <li>
        from{' '}
        <Link className={linkLook} href={`/sources/${encodeURIComponent(event.source)}`}>
          {event.source}
        </Link>
        {event.emitter !== '' && (
          <>
            , sent by <span className="line">{event.emitter}</span>
          </>
        )}
        {event.shape && (
          <>
            , a line of{' '}
            <Link className={linkLook} href={`/explore?view=shapes&w=-1d&shape=${event.shape}`}>
              this shape
            </Link>
          </>
        )}
      </li>
      {pipelines.map(({ id, title, steps }) => (
        <li key={id}>
          {raw === undefined ? 'may have gone through ' : 'through '}
          <Link className={linkLook} href={`/parsing/${encodeURIComponent(id)}`}>
            {title}
          </Link>
          {`, ${steps} ${steps === 1 ? 'step' : 'steps'}`}
        </li>
      ))}
      <li>
        into{' '}
        <Link className={linkLook} href={`/routing?tier=${encodeURIComponent(tier.id)}`}>
          {tier.title}
        </Link>
        {tier.when === '' ? ', which takes all events that reach it' : ', which takes '}
        {tier.when !== '' && <span className="line">{tier.when}</span>}
        {tier.keepsFor !== undefined && `; kept for ${formatDuration(tier.keepsFor / 1_000)}`}
      </li>
      <li>
        {revision === 0 ? (
          'before any plan was published'
        ) : (
          <>
            by{' '}
            <Link className={linkLook} href="/changes">
              revision {revision}
            </Link>
            , which was live when it arrived
          </>
        )}
      </li>
    </ol>
  );
}

/** Puts the record with what came out of it into the draft, as a test of the pipeline that it passed. */
function KeepAsTest({ event, origin: { raw, pipelines } }: Pick<EventAnswer, 'event' | 'origin'>) {
  const { plan, change } = useDraft();
  const passed = pipelines.length === 1 ? pipelines[0] : undefined;
  const pipeline = plan?.pipelines.find(({ id }) => id === passed?.id);
  if (raw === undefined || !pipeline) return null;
  const keep = async (): Promise<void> => {
    const { time: _, ...fields } = fieldsOf(event);
    const test = {
      name: `event of ${event.source}, ${clock(event.time)}`,
      input: raw,
      arrived: inOtherZone(event.received),
      expect: fields,
    };
    // What tables, places and hashes add differs between installations: a test expects what the steps alone give.
    const given = runTest(pipeline, test).fields.filter(({ expected, actual }) => expected === actual);
    const expect = Object.fromEntries(given.map(({ field, expected }) => [field, expected]));
    await change((before) =>
      withPipeline(before, pipeline.id, (old) => ({ ...old, tests: [...(old.tests ?? []), { ...test, expect }] })),
    );
    toast(`The draft has it as a test of ${pipeline.title}.`);
  };
  return (
    <Button className="mt-4" onClick={() => void keep()}>
      Keep as a test of {pipeline.title}
    </Button>
  );
}
