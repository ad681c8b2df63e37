'use client';

import { Dialog as Base, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

/** A question that has to be answered before going on; Esc leaves it. */
export function Dialog(props: {
  readonly open: boolean;
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  return (
    <Base open={props.open} onClose={props.onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/25" aria-hidden="true" />
      <div className="fixed inset-0 flex items-start justify-center pt-[10vh]">
        <DialogPanel className="max-h-[82vh] w-[560px] overflow-auto rounded-md border border-hair bg-sheet p-6 shadow-xl">
          <DialogTitle className="mb-3 text-[18px] font-[680]">{props.title}</DialogTitle>
          {props.children}
        </DialogPanel>
      </div>
    </Base>
  );
}
