'use client';

import { X } from 'lucide-react';
import { type ReactNode, useEffect } from 'react';

/** Details at the right, beside the work rather than over it. Esc closes it; in an editor, Esc first leaves the editor. */
export function WithPanel(props: {
  readonly panel: ReactNode;
  readonly title: string;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  const { open, onClose } = props;
  useEffect(() => {
    if (!open) return;
    const close = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || event.defaultPrevented) return;
      const { target } = event;
      // Esc may be meant for a list of completions that has just closed; closing the panel would lose the text.
      if (target instanceof HTMLElement && target.closest('.cm-editor')) target.blur();
      else onClose();
    };
    window.addEventListener('keydown', close);
    return () => window.removeEventListener('keydown', close);
  }, [open, onClose]);
  return (
    <div className="flex min-h-[calc(100vh-64px)]">
      <main className="min-w-0 flex-1 px-6 pb-24">{props.children}</main>
      {open && (
        <aside
          aria-label={props.title}
          className="w-[372px] min-[1800px]:w-[480px] shrink-0 border-l border-hair bg-sheet px-5 pt-4 pb-24"
        >
          <div className="mb-2 flex items-center justify-between">
            <h2>{props.title}</h2>
            <button type="button" onClick={onClose} aria-label="Close" className="px-1 text-second hover:text-ink">
              <X size={16} aria-hidden="true" />
            </button>
          </div>
          {props.panel}
        </aside>
      )}
    </div>
  );
}
