'use client';

import { useEffect, useRef, useState } from 'react';
import { freeId } from '#core/plan/free-id.ts';
import type { ExclusionDocument, TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { type Base, useDraft, withTier } from '../../data/draft.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { CustomInput, Form, SelectInput, TextInput } from '../../kit/form.tsx';
import { Section } from '../../kit/section.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { Matches } from './matches.tsx';
import { type ExclusionFields, endOf, exclusionFields, exclusionOf, exclusionShape } from './tier-form.ts';

const shares = [
  { value: 'none', title: 'none' },
  { value: 'sample', title: '1 in n' },
  { value: 'all', title: 'all (rule off)' },
];

/** A new exclusion, or one of the tier with all it has. */
export function ExclusionForm(props: {
  readonly tier: TierDocument;
  readonly exclusion?: ExclusionDocument;
  /** What a new one begins with: a condition of events that were found to be noise. */
  readonly noise?: string;
  readonly fields: readonly FieldSummary[];
  readonly onDone?: () => void;
}) {
  const { tier, exclusion, noise = '', fields, onDone } = props;
  const { change, base } = useDraft();
  const [seen] = useState<Base | undefined>(base);
  const start = { ...exclusionFields(exclusion), ...(!exclusion && { when: noise }) };
  const element = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (noise !== '') element.current?.scrollIntoView({ block: 'start' });
  }, [noise]);
  const [share, setShare] = useState(start.share);
  const others = (tier.exclusions ?? []).filter(({ id }) => id !== exclusion?.id);
  const place = (tier.exclusions ?? []).findIndex(({ id }) => id === exclusion?.id);
  const above = place < 0 ? others : others.slice(0, place);
  const save = async (typed: ExclusionFields): Promise<void> => {
    await change(
      (before) => withTier(before, tier.id, (old) => withExclusion(old, exclusion?.id, typed)),
      exclusion && seen,
    );
    setShare(start.share);
    onDone?.();
  };
  return (
    <div ref={element}>
      <Section
        title={exclusion ? `Exclusion “${exclusion.title}”` : 'Exclude events from this tier'}
        className="mt-6 border-t border-hair pt-3"
      >
        <Form
          label={exclusion ? 'Exclusion' : 'New exclusion'}
          shape={exclusionShape(others, share)}
          start={start}
          onSend={save}
          submit={exclusion ? 'Add to draft' : 'Add exclusion'}
          clears={!exclusion}
          beside={exclusion && <Button onClick={onDone}>Cancel</Button>}
        >
          {(form) => (
            <>
              <TextInput name="title" label="Title" placeholder="Planner debug lines" />
              <CustomInput
                name="when"
                label="Events to exclude"
                render={(value, onChange) => (
                  <ConditionEditor label="Events to exclude" value={value} fields={fields} onChange={onChange} />
                )}
              />
              {form.watch('when') !== '' && (
                <Matches condition={form.watch('when')} tier={tier.id} within before={above} />
              )}
              <ShareFields share={share} onShare={setShare} />
              <TextInput
                name="until"
                label="Until"
                mono
                placeholder="2h"
                hint={endInWords(form.watch('until')) ?? 'A time, or a duration from now. Empty: no end.'}
              />
              <div className="flex items-start gap-3">
                <TextInput name="reason" label="Why" placeholder="left on since the tests" className="flex-1" />
                <TextInput name="owner" label="Contact" placeholder="harbour" className="w-28" />
              </div>
            </>
          )}
        </Form>
      </Section>
    </div>
  );
}

/** When it ends, in words; undefined where that is not known. */
function endInWords(until: string): string | undefined {
  const end = until === '' ? undefined : endOf(until, Date.now());
  return end === undefined ? undefined : `ends ${dayAndMinute(Date.parse(end))}; from then on all of them are kept`;
}

/** A tier with an exclusion changed, or (without an id) one more. */
function withExclusion(tier: TierDocument, id: string | undefined, typed: ExclusionFields): TierDocument {
  const before = tier.exclusions ?? [];
  if (id !== undefined)
    return { ...tier, exclusions: before.map((other) => (other.id === id ? exclusionOf(id, typed) : other)) };
  const ids = before.map((other) => other.id);
  return { ...tier, exclusions: [...before, exclusionOf(freeId(typed.title, ids), typed)] };
}

/** How much of the events is kept, and how a sample is drawn. */
function ShareFields({ share, onShare }: { readonly share: string; readonly onShare: (share: string) => void }) {
  return (
    <>
      <div className="flex items-start gap-3">
        <SelectInput name="share" label="Keep" options={shares} onChosen={onShare} />
        {share === 'sample' && <TextInput name="n" label="n" mono className="w-24" />}
      </div>
      {share === 'sample' && (
        <TextInput
          name="by"
          label="Sample together by"
          mono
          placeholder="booking"
          hint="A field: events with the same value are kept or dropped together. Empty: at random."
        />
      )}
    </>
  );
}
