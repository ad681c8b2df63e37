'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import { type ObjectSchema, object, string } from 'yup';
import { parseDuration } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { PostureDocument, PostureOverride } from '#core/plan/parts/postures/postures-shape.ts';
import { keptOneIn } from '#core/routing/kept-share.ts';
import { useQuestion } from '../../data/client.ts';
import { type Base, useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Form, SelectInput, TextInput } from '../../kit/form.tsx';
import { Select } from '../../kit/select.tsx';
import { FaultText } from '../../kit/text-field.tsx';

interface PostureFields {
  readonly title: string;
  readonly reason: string;
  readonly fleet: string;
}

const shape: ObjectSchema<PostureFields> = object({
  title: string().trim().required('Enter a title.').max(200, 'At most 200 characters.'),
  reason: string().defined().max(500, 'At most 500 characters.'),
  fleet: string().defined(),
});

/** Edits a posture. Changes go into the draft when they are confirmed. */
export function PosturePanel({
  posture,
  onClose,
}: {
  readonly posture: PostureDocument;
  readonly onClose: () => void;
}) {
  const { plan, change, base } = useDraft();
  const [seen] = useState<Base | undefined>(base);
  const [overrides, setOverrides] = useState(posture.overrides);
  const { data } = useQuestion('fleets', {});
  const faults = overrides.map(faultOf);
  const edit = (to: (list: readonly PostureDocument[]) => readonly PostureDocument[]): Promise<void> =>
    change((before) => ({ ...before, postures: to(before.postures ?? []) }), seen).then(onClose);
  const save = async ({ title, reason, fleet }: PostureFields): Promise<void> => {
    const fault = faults.find((text) => text !== undefined);
    if (fault) throw new Error(fault);
    const { id } = posture;
    const next = { id, title: title.trim(), ...(reason && { reason }), ...(fleet && { fleet }), overrides };
    await edit((list) => list.map((other) => (other.id === id ? next : other)));
  };
  return (
    <Form
      label={`Posture ${posture.title}`}
      shape={shape}
      start={{ title: posture.title, reason: posture.reason ?? '', fleet: posture.fleet ?? '' }}
      onSend={save}
      submit="Add to draft"
      beside={
        <Button look="danger" onClick={() => void edit((list) => list.filter(({ id }) => id !== posture.id))}>
          Remove
        </Button>
      }
    >
      <TextInput name="title" label="Title" />
      <TextInput name="reason" label="Purpose" />
      <SelectInput
        name="fleet"
        label="For"
        options={[
          { value: '', title: 'all sources' },
          ...(data?.fleets ?? []).map(({ name }) => ({ value: name, title: `the fleet ${name}` })),
        ]}
      />
      <div>
        <h2>While it is on</h2>
        {overrides.map((override, index) => (
          <Override
            // Rows have no names; their place is what they are.
            key={index}
            override={override}
            targets={targetsOf(plan)}
            fault={faults[index]}
            onChange={(next) =>
              setOverrides(overrides.flatMap((other, i) => (i !== index ? [other] : next ? [next] : [])))
            }
          />
        ))}
        <Button
          look="quiet"
          className="-ml-3"
          onClick={() => setOverrides([...overrides, { exclusion: '*', keep: 'all' }])}
        >
          Add override
        </Button>
      </div>
    </Form>
  );
}

/** What an override can be about, by what stands for it in a choice. */
function targetsOf(plan: PlanDocument | undefined): readonly { readonly value: string; readonly title: string }[] {
  const tiers = plan?.tiers ?? [];
  return [
    { value: 'exclusion *', title: 'all exclusions keep' },
    ...tiers.flatMap(({ id, title, exclusions = [] }) =>
      exclusions.map((one) => ({ value: `exclusion ${id}/${one.id}`, title: `“${one.title}” of ${title} keeps` })),
    ),
    ...tiers.map(({ id, title }) => ({ value: `tier ${id}`, title: `${title} keeps for at least` })),
    ...tiers.filter(({ cap }) => cap).map(({ id, title }) => ({ value: `cap ${id}`, title: `${title} has no cap` })),
  ];
}

function faultOf({ exclusion, keep = '', cap }: PostureOverride): string | undefined {
  if (cap !== undefined && keep === '') return undefined;
  if (exclusion !== undefined)
    return keptOneIn(keep) === undefined ? 'An exclusion keeps none, all, or 1 in a number.' : undefined;
  const time = parseDuration(keep);
  return time !== undefined && time >= 60_000 ? undefined : 'A tier keeps for a duration with its unit, such as 30d.';
}

function Override(props: {
  readonly override: PostureOverride;
  readonly targets: readonly { readonly value: string; readonly title: string }[];
  readonly fault: string | undefined;
  readonly onChange: (override: PostureOverride | undefined) => void;
}) {
  const { override, targets, fault, onChange } = props;
  const isCap = override.cap !== undefined;
  const target =
    override.tier === undefined ? `exclusion ${override.exclusion}` : `${isCap ? 'cap' : 'tier'} ${override.tier}`;
  const choose = (value: string): void => {
    const [kind = '', name = ''] = value.split(' ');
    if (kind === 'cap') onChange({ tier: name, cap: 'lifted' });
    else onChange(kind === 'tier' ? { tier: name, keep: '30d' } : { exclusion: name, keep: 'all' });
  };
  return (
    <div className="mt-1.5">
      <div className="flex items-center gap-2">
        <Select
          label="What"
          isLabelHidden
          value={target}
          options={targets}
          onChange={choose}
          className="min-w-0 flex-1"
        />
        {!isCap && (
          <input
            aria-label="Amount or duration"
            value={override.keep ?? ''}
            onChange={(event) => onChange({ ...override, keep: event.target.value })}
            className="line w-20 rounded-[5px] border border-hair bg-paper px-2 py-1"
          />
        )}
        <button
          type="button"
          aria-label="Remove"
          onClick={() => onChange(undefined)}
          className="text-second hover:text-danger"
        >
          <X size={14} aria-hidden="true" />
        </button>
      </div>
      {fault && <FaultText text={fault} />}
    </div>
  );
}
