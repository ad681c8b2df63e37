'use client';

import { Pencil, Plus, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { mainTab, type SearchTab, titleOf } from './tabs.ts';
import type { Tabs } from './use-tabs.ts';

/** The searches side by side; with one alone, only the way to another. */
export function TabStrip({ tabs: { tabs, shown, show, open, rename, close } }: { readonly tabs: Tabs }) {
  const [renamed, setRenamed] = useState<string>();
  return (
    <nav aria-label="Searches" className="flex flex-wrap items-center gap-x-4 gap-y-1 text-[12.5px]">
      {tabs.length > 1 &&
        tabs.map((tab) =>
          tab.id === renamed ? (
            <TitleField
              key={tab.id}
              tab={tab}
              onDone={(title) => {
                if (title !== undefined) rename(tab.id, title);
                setRenamed(undefined);
              }}
            />
          ) : (
            <span
              key={tab.id}
              className={`inline-flex items-center gap-1 border-b-2 ${tab.id === shown ? 'border-mark' : 'border-transparent'}`}
            >
              <button
                type="button"
                aria-current={tab.id === shown ? 'page' : undefined}
                title={titleOf(tab)}
                onClick={() => tab.id !== shown && show(tab)}
                onDoubleClick={() => setRenamed(tab.id)}
                className={`min-h-6 max-w-[190px] truncate ${tab.id === shown ? 'font-semibold' : 'text-second hover:text-ink'}`}
              >
                {titleOf(tab)}
              </button>
              {tab.id === shown && (
                <>
                  <SmallButton label={`Rename ${titleOf(tab)}`} onClick={() => setRenamed(tab.id)}>
                    <Pencil size={12} aria-hidden="true" className="m-auto" />
                  </SmallButton>
                  {tab.id !== mainTab && (
                    <SmallButton label={`Close ${titleOf(tab)}`} onClick={() => close(tab.id)}>
                      <X size={14} aria-hidden="true" className="m-auto" />
                    </SmallButton>
                  )}
                </>
              )}
            </span>
          ),
        )}
      <button
        type="button"
        onClick={open}
        className="inline-flex min-h-6 items-center gap-1 text-second hover:text-ink"
      >
        <Plus size={13} aria-hidden="true" /> Another search
      </button>
    </nav>
  );
}

function SmallButton(props: { readonly label: string; readonly onClick: () => void; readonly children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={props.label}
      onClick={props.onClick}
      className="size-6 p-1 text-second hover:text-ink"
    >
      {props.children}
    </button>
  );
}

function TitleField({
  tab,
  onDone,
}: {
  readonly tab: SearchTab;
  readonly onDone: (title: string | undefined) => void;
}) {
  const [title, setTitle] = useState(tab.title);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onDone(title);
      }}
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: it stands where what was just pressed stood
        autoFocus
        aria-label="Name of the search"
        value={title}
        maxLength={60}
        placeholder={titleOf({ ...tab, title: '' })}
        onChange={(event) => setTitle(event.target.value)}
        onBlur={() => onDone(title)}
        onKeyDown={(event) => {
          if (event.key !== 'Escape') return;
          event.preventDefault();
          onDone(undefined);
        }}
        className="w-[190px] border-b-2 border-mark bg-transparent px-0.5"
      />
    </form>
  );
}
