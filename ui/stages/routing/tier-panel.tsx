'use client';

import { useQueryState } from 'nuqs';
import { useState } from 'react';
import { formatDuration, parseDuration } from '#core/events/units.ts';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { type Base, useDraft, withTier } from '../../data/draft.ts';
import { useKnownFields } from '../../data/known-fields.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { CustomInput, Form, TextInput } from '../../kit/form.tsx';
import { ReadBy } from '../../parts/read-by.tsx';
import { CapFields, PastCap, useCaps } from './cap.tsx';
import { ExclusionForm } from './exclusion-form.tsx';
import { Matches } from './matches.tsx';
import { NoisyShapes } from './noisy-shapes.tsx';
import { RetentionCost } from './retention-cost.tsx';
import { ShorterRetention } from './shorter-retention.tsx';
import { capFields, capOf, keepByTitle, type TierFields, tierShape } from './tier-form.ts';

/** Edits a tier and its exclusions. Changes go into the draft when they are confirmed. */
export function TierPanel({ tier, onClose }: { readonly tier: TierDocument; readonly onClose: () => void }) {
  const { plan, change, base } = useDraft();
  // What the fields were filled in from: others may change the tier while they are open.
  const [seen] = useState<Base | undefined>(base);
  const fields = useKnownFields();
  const caps = useCaps();
  const view = caps?.caps.find((one) => one.tier === tier.id);
  const below = plan?.tiers.slice(plan.tiers.findIndex(({ id }) => id === tier.id) + 1) ?? [];
  const start = { title: tier.title, when: tier.when ?? '', keep: tier.keep, ...capFields(tier.cap) };
  const save = async ({ title, when, keep, ...cap }: TierFields): Promise<void> => {
    await change(
      (before) =>
        withTier(before, tier.id, (old) => ({
          ...old,
          title: title.trim(),
          keep,
          when: when || undefined,
          cap: capOf({ title, when, keep, ...cap }),
        })),
      seen,
    );
    onClose();
  };
  const takeOut = (): Promise<void> =>
    change((before) => ({ ...before, tiers: before.tiers.filter((other) => other.id !== tier.id) })).then(onClose);
  return (
    <>
      <Form
        label={`Tier ${tier.title}`}
        shape={tierShape((plan?.tiers ?? []).filter(({ id }) => id !== tier.id))}
        start={start}
        onSend={save}
        submit="Add to draft"
        beside={
          <Button look="danger" onClick={() => void takeOut()}>
            Remove
          </Button>
        }
      >
        {(form) => (
          <>
            <TextInput name="title" label="Title" />
            <CustomInput
              name="when"
              label="Events, of those that reach this tier"
              render={(value, onChange) => (
                <ConditionEditor
                  label="Which events the tier takes"
                  value={value}
                  fields={fields}
                  onChange={onChange}
                />
              )}
            />
            <Matches condition={form.watch('when')} tier={tier.id} within={false} />
            <div className="flex items-start gap-3">
              <TextInput name="keep" label="Retention" mono className="w-44" hint={inWords(form.watch('keep'))} />
              <KeepOffer
                keep={keepByTitle(form.watch('title'), form.watch('keep'))}
                onTake={(keep) => form.setValue('keep', keep, { shouldValidate: true, shouldDirty: true })}
              />
            </div>
            <RetentionCost tier={tier.id} keep={form.watch('keep')} before={tier.keep} />
            <ReadBy kind="tier" name={tier.id} />
            <ShorterRetention
              tier={tier.id}
              keep={parseDuration(form.watch('keep'))}
              onTake={(keep) => form.setValue('keep', keep, { shouldValidate: true, shouldDirty: true })}
            />
            <CapFields form={form} below={below} suggestions={caps?.suggestions.find((one) => one.tier === tier.id)} />
          </>
        )}
      </Form>
      {view && <PastCap view={view} />}
      <ExclusionsOfTier tier={tier} fields={fields} />
    </>
  );
}

/** The form of the exclusion that is open, or of a new one. */
function ExclusionsOfTier({ tier, fields }: { readonly tier: TierDocument; readonly fields: readonly FieldSummary[] }) {
  const [open, setOpen] = useQueryState('exclusion');
  const [noise, setNoise] = useQueryState('noise');
  const exclusion = tier.exclusions?.find(({ id }) => id === open);
  if (exclusion)
    return (
      <ExclusionForm
        key={exclusion.id}
        tier={tier}
        exclusion={exclusion}
        fields={fields}
        onDone={() => void setOpen(null)}
      />
    );
  return (
    <>
      <ExclusionForm
        key={noise}
        tier={tier}
        fields={fields}
        {...(noise && { noise, onDone: () => void setNoise(null) })}
      />
      {(tier.exclusions ?? []).length === 0 && <NoisyShapes tier={tier.id} />}
    </>
  );
}

/** Offers what the title of the tier says. */
function KeepOffer({ keep, onTake }: { readonly keep: string | undefined; readonly onTake: (keep: string) => void }) {
  return (
    keep !== undefined && (
      <Button className="mt-5" onClick={() => onTake(keep)}>
        Keep {keep.replace('d', ' d')}
      </Button>
    )
  );
}

function inWords(keep: string): string {
  const duration = parseDuration(keep);
  return duration === undefined || duration <= 0
    ? 'a duration with its unit, such as 15d'
    : formatDuration(duration / 1000);
}
