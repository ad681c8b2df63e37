'use client';

import { type FormEvent, useState } from 'react';
import { formatDuration, parseDuration } from '#core/events/units.ts';
import type { TierDocument } from '#core/plan/document.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { freeId, useDraft, withTier } from '../../data/draft.ts';
import { useApi } from '../../data/use-api.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';

/** Edits a tier, and adds exclusions to it. Changes go into the draft when they are confirmed. */
export function TierPanel({ tier, onClose }: { readonly tier: TierDocument; readonly onClose: () => void }) {
  const { change } = useDraft();
  const { data } = useApi<{ readonly fields: readonly FieldSummary[] }>('/api/fields');
  const fields = data?.fields ?? [];
  const [title, setTitle] = useState(tier.title);
  const [when, setWhen] = useState(tier.when ?? '');
  const [keep, setKeep] = useState(tier.keep);
  const duration = parseDuration(keep);
  const save = (event: FormEvent): void => {
    event.preventDefault();
    void change((plan) =>
      withTier(plan, tier.id, (old) => ({ ...old, title, keep, ...(when === '' ? { when: undefined } : { when }) })),
    ).then(onClose);
  };
  return (
    <>
      <form onSubmit={save} className="flex flex-col gap-3">
        <TextField label="Title" value={title} onChange={(event) => setTitle(event.target.value)} required />
        <div>
          <span className="mb-1 block text-[12.5px] font-semibold text-second">
            Which events, of those that come this far
          </span>
          <ConditionEditor label="Which events the tier takes" value={when} fields={fields} onChange={setWhen} />
        </div>
        <div>
          <TextField
            mono
            label="Kept for"
            value={keep}
            onChange={(event) => setKeep(event.target.value)}
            required
            className="w-28"
          />
          <p className="mt-0.5 text-[12.5px] text-second">
            {duration === undefined ? 'a duration with its unit, such as 15d' : formatDuration(duration / 1000)}
          </p>
        </div>
        <div className="flex gap-2">
          <Button type="submit" look="main">
            Put into the draft
          </Button>
          <Button
            type="button"
            look="danger"
            onClick={() =>
              void change((plan) => ({ ...plan, tiers: plan.tiers.filter((other) => other.id !== tier.id) })).then(
                onClose,
              )
            }
          >
            Take out
          </Button>
        </div>
      </form>
      <NewExclusion tier={tier} fields={fields} />
    </>
  );
}

function NewExclusion({ tier, fields }: { readonly tier: TierDocument; readonly fields: readonly FieldSummary[] }) {
  const { change } = useDraft();
  const [title, setTitle] = useState('');
  const [when, setWhen] = useState('');
  const add = (event: FormEvent): void => {
    event.preventDefault();
    void change((plan) =>
      withTier(plan, tier.id, (old) => {
        const before = old.exclusions ?? [];
        const id = freeId(
          title,
          before.map((exclusion) => exclusion.id),
        );
        return { ...old, exclusions: [...before, { id, title, when, keep: 'none' }] };
      }),
    ).then(() => {
      setTitle('');
      setWhen('');
    });
  };
  return (
    <Section title="Exclude noise from this tier" className="mt-6 border-t border-hair pt-3">
      <form onSubmit={add} className="flex flex-col gap-3">
        <TextField
          label="What it is"
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          placeholder="Planner debug lines"
          required
        />
        <div>
          <span className="mb-1 block text-[12.5px] font-semibold text-second">Which events are noise</span>
          <ConditionEditor label="Which events are noise" value={when} fields={fields} onChange={setWhen} />
        </div>
        <div>
          <Button type="submit" disabled={title === '' || when === ''}>
            Add the exclusion
          </Button>
        </div>
      </form>
    </Section>
  );
}
