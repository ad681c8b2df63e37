'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { starterKits } from '#core/kits/index.ts';
import { describeStep } from '#core/plan/parts/pipelines/describe-step.ts';
import { useQuestion } from '../../data/client.ts';
import { addPipeline, useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Select } from '../../kit/select.tsx';

/** Ready pipelines, each with its tests, for one kind of source each. */
export function KitsPanel() {
  const { change } = useDraft();
  const { data } = useQuestion('sources', {});
  const [source, setSource] = useState('');
  const router = useRouter();
  const use = async (kitId: string): Promise<void> => {
    const kit = starterKits.find((candidate) => candidate.id === kitId);
    if (!kit || source === '') return;
    const id = await addPipeline(change, kit.pipeline(source));
    router.push(`/parsing/${id}`);
  };
  return (
    <div className="flex flex-col gap-3">
      <Select
        label="Source"
        value={source}
        placeholder="choose one"
        options={(data?.sources ?? []).map(({ name }) => ({ value: name, title: name }))}
        onChange={setSource}
      />
      <ul>
        {starterKits.map((kit) => (
          <li key={kit.id} className="border-t border-hair py-2 last:border-b">
            <div className="flex items-center justify-between gap-2">
              <b className="font-[650]">{kit.title}</b>
              <Button look="quiet" disabled={source === ''} onClick={() => void use(kit.id)}>
                Add to draft
              </Button>
            </div>
            <p className="text-[12.5px] text-second">{kit.help}</p>
            <p className="mt-1 text-[12px] text-second">{kit.pipeline('source').steps.map(describeStep).join(' · ')}</p>
          </li>
        ))}
      </ul>
    </div>
  );
}
