import Link from 'next/link';
import type { ReactNode } from 'react';

/** The sentence that opens a screen. */
export function Sentence({ children }: { readonly children: ReactNode }) {
  return (
    <h1 className="mt-[18px] max-w-[1180px] text-pretty text-[25px] leading-[33px] tracking-[-0.012em] text-second [&_b]:font-[680] [&_b]:text-ink">
      {children}
    </h1>
  );
}

/** A live figure in a sentence; with `to` it leads there, `needs` marks what needs attention. */
export function Figure({
  to,
  needs = false,
  children,
}: {
  readonly to?: string;
  readonly needs?: boolean;
  readonly children: ReactNode;
}) {
  const look = `font-[680] border-b-[1.5px] ${needs ? 'border-mark text-mark' : 'border-d3 text-ink'}`;
  return to ? (
    <Link href={to} className={look}>
      {children}
    </Link>
  ) : (
    <span className={look}>{children}</span>
  );
}

/** Stands where a figure will be, so that nothing jumps when it comes. */
export function FigurePending() {
  return <span className="inline-block h-[24px] w-[72px] animate-pulse rounded bg-land align-middle" />;
}
