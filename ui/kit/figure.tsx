import Link from 'next/link';
import type { ReactNode } from 'react';

/** What a figure is: one name is one figure over one window, on every screen. */
export interface FigureMeaning {
  /** Such as `received`; the same figure has the same name everywhere. */
  readonly name: string;
  /** What it is about where it is not about everything, such as `source gates`. */
  readonly of?: string;
  /** Over what it is taken, such as `last 24 h` or `now`. */
  readonly over: string;
  /** Such as `bytes`, `% of events`, `events/s`. */
  readonly unit: string;
  /** In its unit, not rounded. */
  readonly value: number;
}

/** A figure with what it means: over what, and in which unit, on hover and for whoever compares screens. `plain` has no line below. */
export function Figure(
  props: FigureMeaning & {
    /** Where it leads. */
    readonly to?: string;
    /** Whether it needs someone. */
    readonly needs?: boolean;
    readonly plain?: boolean;
    /** The figure as it is written. */
    readonly children: ReactNode;
  },
) {
  const { name, of = '', over, unit, value, to, needs = false, plain = false, children } = props;
  const marked = {
    title: `${name}${of === '' ? '' : ` of ${of}`}, ${unit}, ${over}`,
    className: plain ? undefined : `whitespace-nowrap ${markOf(needs)}`,
    'data-figure': name,
    'data-of': of,
    'data-over': over,
    'data-unit': unit,
    'data-value': value,
  };
  return to === undefined ? (
    <span {...marked}>{children}</span>
  ) : (
    <Link href={to} {...marked}>
      {children}
    </Link>
  );
}

/** A word of a sentence that is as important as a figure: a name, a day. */
export function Mark({ to, needs = false, children }: { to?: string; needs?: boolean; children: ReactNode }) {
  return to === undefined ? (
    <span className={markOf(needs)}>{children}</span>
  ) : (
    <Link href={to} className={markOf(needs)}>
      {children}
    </Link>
  );
}

function markOf(needs: boolean): string {
  return `font-[680] border-b-[1.5px] ${needs ? 'border-mark text-mark' : 'border-d3 text-ink'}`;
}

/** Stands where a figure will be, so that nothing jumps when it comes. */
export function FigurePending() {
  return <span data-pending="" className="inline-block h-[24px] w-[72px] animate-pulse rounded bg-land align-middle" />;
}
