'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { firstPlan } from '#core/plan/document.ts';
import { planParts } from '#core/plan/parts/index.ts';
import { readyRankings } from '#core/plan/parts/rankings/ranking.ts';
import { useQuestion } from '../data/client.ts';
import { useDraft } from '../data/draft.ts';
import { addressOfSaved, useSavedSearches } from '../data/saved-searches.ts';
import { Dialog } from '../kit/dialog.tsx';
import { pageOf } from '../parts/place-link.ts';
import { stages } from './navigation.tsx';

interface Command {
  readonly title: string;
  readonly hint: string;
  readonly path: string;
}

/** Goes anywhere by name: stages, sources, things of the plan, saved searches. */
export function Palette({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const router = useRouter();
  const { plan } = useDraft();
  const { data } = useQuestion('sources', open ? {} : null);
  const saved = useSavedSearches() ?? [];
  const [text, setText] = useState('');
  // Enter may be pressed before the names that match have been loaded: it counts once they are there.
  const [isEntered, setEntered] = useState(false);
  const commands: readonly Command[] = [
    ...stages.map((stage, i) => ({ title: stage.title, hint: `stage · ${i + 1}`, path: stage.path })),
    { title: 'Connect a source', hint: 'sources', path: '/sources?connect=1' },
    ...(data?.sources ?? []).map(({ name }) => ({ title: name, hint: 'source', path: `/sources/${name}` })),
    ...planParts.flatMap(({ key, noun, items }) =>
      items(plan ?? firstPlan).map(({ id, title }) => ({ title, hint: noun, path: pageOf(key, id) })),
    ),
    ...readyRankings.map(({ id, title }) => ({ title, hint: 'ranking', path: pageOf('rankings', id) })),
    ...saved.map((search) => ({ title: search.name, hint: 'saved search', path: addressOfSaved(search) })),
  ];
  const found = commands.filter((command) => command.title.toLowerCase().includes(text.toLowerCase())).slice(0, 12);
  const close = (): void => {
    setEntered(false);
    onClose();
  };
  const go = (command: Command | null): void => {
    if (!command) return;
    close();
    setText('');
    router.push(command.path);
  };
  const [first] = found;
  useEffect(() => {
    if (open && isEntered && first) go(first);
  });
  return (
    <Dialog open={open} title="Go to" onClose={close}>
      <Combobox<Command | null> value={null} onChange={go} immediate>
        <ComboboxInput
          autoFocus
          aria-label="Where to"
          placeholder="Stage, source, pipeline, tier, metric or saved search"
          onChange={(event) => {
            setText(event.target.value);
            setEntered(false);
          }}
          onKeyDown={(event) => {
            // The list would take the key to close itself, which it never does.
            if (event.key === 'Escape') close();
            if (event.key === 'Enter') setEntered(found.length === 0);
          }}
          className="w-full rounded-[5px] border border-hair bg-paper px-3 py-1.5"
        />
        <ComboboxOptions static className="mt-2 max-h-80 overflow-auto">
          {found.map((command) => (
            <ComboboxOption
              key={command.path + command.title}
              value={command}
              className="flex cursor-pointer justify-between border-t border-hair px-2 py-1.5 data-focus:bg-land"
            >
              <span>{command.title}</span>
              <span className="text-second">{command.hint}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
        {found.length === 0 && (
          <p role="status" className="border-t border-hair px-2 py-2 text-second">
            No match for “{text}”. Search for a stage, source, pipeline, tier, metric, ranking or saved search.
          </p>
        )}
      </Combobox>
    </Dialog>
  );
}
