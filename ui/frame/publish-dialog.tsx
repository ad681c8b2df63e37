'use client';

import { toast } from 'sonner';
import { type ObjectSchema, object, string } from 'yup';
import { newMasks } from '#core/plan/new-masks.ts';
import { placeInWords } from '#core/plan/place-in-words.ts';
import type { Leaving } from '../data/answers.ts';
import type { DraftTools } from '../data/draft.ts';
import { useDraft, withPipeline } from '../data/draft.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { Form, TextArea, TextInput } from '../kit/form.tsx';
import { whatGoes, whyItGoes } from '../kit/leaving.ts';
import { MaskAtSource } from '../kit/mask-at-source.tsx';

interface Props {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onRehearse: () => void;
}

/** What is typed to publish: a note, and for each tier of which stored events go its title. */
interface PublishFields {
  readonly note: string;
  readonly [title: string]: string;
}

/** The field for the title of a tier; the ids of tiers hold dashes only. */
function fieldOf(tier: string): string {
  return `letting-go-${tier}`;
}

function shapeFor(leaving: readonly Leaving[]): ObjectSchema<PublishFields> {
  const titles = leaving.map(({ tier, title }) => [
    fieldOf(tier),
    string().trim().required(`Type ${title} to delete its events.`).oneOf([title.trim()], `This is not ${title}.`),
  ]);
  const note = string().trim().required('Say what the change is for.').max(1000, 'At most 1,000 characters.');
  // Its fields are known only when it is made.
  return object({ note, ...Object.fromEntries(titles) }) as ObjectSchema<PublishFields>;
}

/** Asks what the change is for and, where stored events will go, whether that is meant. */
export function PublishDialog({ open, onClose, onRehearse }: Props) {
  const { draft, live, plan, change, publish } = useDraft();
  const leaving = draft?.leaving ?? [];
  const send = async ({ note }: PublishFields): Promise<void> => {
    await publish(
      note,
      leaving.map(({ tier }) => tier),
    );
    toast.success('Published. The engine uses the new plan from the next events on.');
    onClose();
  };
  return (
    <Dialog open={open} title="Publish draft" onClose={onClose}>
      <Form
        label="Publish"
        shape={shapeFor(leaving)}
        start={{ note: '', ...Object.fromEntries(leaving.map(({ tier }) => [fieldOf(tier), ''])) }}
        onSend={send}
        submit="Publish"
        clears
        beside={<Button onClick={onClose}>Cancel</Button>}
      >
        <ul className="mb-3 max-h-48 overflow-auto border-y border-hair py-2">
          {draft?.changes.map(({ path, text }) => (
            <li key={path + text} className="py-0.5">
              {text}
            </li>
          ))}
        </ul>
        <MasksToMove live={live} plan={plan} change={change} />
        {leaving.map((going) => (
          <div key={going.tier} className="mb-3 border-l-2 border-danger pl-3">
            <p>
              <b className="font-[650] text-danger">◆ {whatGoes(going)} will be deleted</b>, as {whyItGoes(going)}. They
              are kept for 24 hours after publishing; until then you can keep them, or restore the revision, under
              Changes.
            </p>
            <TextInput name={fieldOf(going.tier)} label={`Type ${going.title} to delete them`} className="mt-1" />
          </div>
        ))}
        {plan && draft && draft.doubts.length > 0 && (
          <ul aria-label="Doubts" className="mb-3 text-caution">
            {draft.doubts.map(({ path, message, suggestion }) => (
              <li key={path + message}>
                ▲ {placeInWords(plan, path).words}: {message}
                {suggestion && `; did you mean ${suggestion}?`}
              </li>
            ))}
          </ul>
        )}
        {!draft?.rehearsal && (
          <p className="mb-3 text-caution">
            ▲ This version of the draft has not been rehearsed: its effect is not known.{' '}
            <Button look="quiet" className="px-0!" onClick={onRehearse}>
              Rehearse first
            </Button>
          </p>
        )}
        <TextArea name="note" label="What is the change for?" />
      </Form>
    </Dialog>
  );
}

/** New mask steps, each of which can become its source's mask instead. */
function MasksToMove({ live, plan, change }: Pick<DraftTools, 'live' | 'plan' | 'change'>) {
  const masks = live && plan ? newMasks(live, plan) : [];
  if (masks.length === 0) return null;
  const withoutStep = (pipeline: string, step: number): Promise<void> =>
    change((before) =>
      withPipeline(before, pipeline, (old) => ({ ...old, steps: old.steps.filter((_, at) => at !== step) })),
    );
  return (
    <div className="mb-3 flex flex-col gap-2">
      {masks.map(({ source, pipeline, step, options }) => (
        <MaskAtSource
          key={`${pipeline}/${step}`}
          options={options}
          source={source}
          onMoved={() => void withoutStep(pipeline, step)}
        />
      ))}
    </div>
  );
}
