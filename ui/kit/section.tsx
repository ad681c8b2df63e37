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

/** An empty state: why it is empty, the next step, and for a stage a small picture of what it will show. */
export function Nothing(props: {
  readonly title: string;
  readonly picture?: ReactNode;
  readonly children?: ReactNode;
}) {
  const { title, picture, children } = props;
  return (
    <div className="mt-4 flex items-center gap-8 border-y border-hair py-6 text-second">
      {picture}
      <div className="min-w-0">
        <p className="font-semibold text-ink">{title}</p>
        {children}
      </div>
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
