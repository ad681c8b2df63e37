'use client';

import type { AttributeValue } from '#core/events/columns.ts';
import { formatBytes, formatDuration } from '#core/events/units.ts';
import { fieldsOf } from '#core/plan/event-fields.ts';
import { stepKinds } from '#core/steps/index.ts';
import { type StepDocument, stepParts } from '#core/steps/step-document.ts';
import { Section } from '../../../kit/section.tsx';
import type { TrailState } from './sample.ts';

function shortened(state: TrailState): Readonly<Record<string, AttributeValue>> {
  const fields = fieldsOf(state.event);
  const { body = '' } = fields;
  return { ...fields, body: String(body).length > 60 ? `${String(body).slice(0, 60)}…` : body };
}

/** One line after each step: what a step changed is written in its column, with its bytes and the time it took. */
export function StepTrail({
  trail,
  steps,
}: {
  readonly trail: readonly TrailState[];
  readonly steps: readonly StepDocument[];
}) {
  const states = trail.map(shortened);
  const names = [...new Set(states.flatMap((state) => Object.keys(state)))];
  return (
    <Section title="The traced line after each step" className="mt-4 overflow-x-auto">
      <table className="w-full text-[12.5px]">
        <thead>
          <tr className="border-b border-hair">
            <th scope="col">field</th>
            <th scope="col">as read</th>
            {states.slice(1).map((_, index) => (
              <th scope="col" key={index}>
                {index + 1} {(stepKinds.get(stepParts(steps[index] ?? {}).kind)?.title ?? '').toLowerCase()}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((name) => (
            <tr key={name} className="border-b border-hair">
              <th scope="row" className="line pr-4 font-normal">
                {name}
              </th>
              {states.map((state, index) => (
                <td key={index} className="line max-w-[220px] truncate pr-3">
                  <Cell
                    now={state[name]}
                    before={index === 0 ? undefined : states[index - 1]?.[name]}
                    first={index === 0}
                  />
                </td>
              ))}
            </tr>
          ))}
          <tr className="border-b border-hair text-second">
            <th scope="row" className="pr-4 font-normal">
              bytes
            </th>
            {trail.map((state, index) => (
              <td key={index}>
                {formatBytes(state.bytes)}
                {state.events > 1 && ` in ${state.events} events`}
              </td>
            ))}
          </tr>
          <tr className="text-second">
            <th scope="row" className="pr-4 font-normal">
              time
            </th>
            {trail.map((state, index) => (
              <td key={index}>{index === 0 ? '' : formatDuration(state.microseconds / 1e6)}</td>
            ))}
          </tr>
        </tbody>
      </table>
    </Section>
  );
}

function Cell({
  now,
  before,
  first,
}: {
  readonly now: AttributeValue | undefined;
  readonly before: AttributeValue | undefined;
  readonly first: boolean;
}) {
  if (now === before) return null;
  if (now === undefined || now === '')
    return before === undefined ? null : <span className="text-second">removed</span>;
  return <span className={first ? '' : 'text-mark'}>{String(now)}</span>;
}
