import type { ReactNode } from 'react';

/** The sentence that opens a screen. */
export function Sentence({ children }: { readonly children: ReactNode }) {
  return (
    <h1 className="mt-[18px] max-w-[1180px] text-pretty text-[25px] leading-[33px] tracking-[-0.012em] text-second [&_b]:font-[680] [&_b]:text-ink">
      {children}
    </h1>
  );
}
