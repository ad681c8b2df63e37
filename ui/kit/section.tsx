import type { ReactNode } from 'react';

/** A part of a screen with its small heading, and at the right what belongs to it. */
export function Section(props: {
  readonly title: ReactNode;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
  readonly className?: string;
}) {
  return (
    <section className={props.className ?? ''}>
      <div className="mb-1.5 flex min-h-[26px] items-center justify-between gap-4">
        <h2>{props.title}</h2>
        {props.aside}
      </div>
      {props.children}
    </section>
  );
}

/** What stands where there is nothing yet: why, and the next step. */
export function Nothing({ title, children }: { readonly title: string; readonly children?: ReactNode }) {
  return (
    <div className="border-y border-hair py-6 text-second">
      <p className="font-semibold text-ink">{title}</p>
      {children}
    </div>
  );
}

/** A problem: what happened and what to do. */
export function Problem({ children }: { readonly children: ReactNode }) {
  return (
    <p role="alert" className="flex gap-2 py-2 text-danger">
      <span aria-hidden="true">◆</span>
      <span>{children}</span>
    </p>
  );
}
