import type { ComponentProps } from 'react';

const looks = {
  plain: 'border-hair bg-sheet text-ink hover:border-second',
  main: 'border-mark bg-mark text-on-mark hover:opacity-90',
  quiet: 'border-transparent bg-transparent text-mark hover:underline',
  danger: 'border-transparent bg-transparent text-danger hover:underline',
  strip: 'border-on-strip/35 bg-transparent text-on-strip hover:border-on-strip',
} as const;

/** A button. `main` is the one thing to do next; `danger` loses something; `strip` is for the draft strip. */
export function Button({
  look = 'plain',
  className = '',
  disabled = false,
  ...rest
}: ComponentProps<'button'> & { readonly look?: keyof typeof looks }) {
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-2 rounded-[5px] border px-3 py-1 font-semibold disabled:opacity-50 ${looks[look]} ${className}`}
      disabled={disabled}
      {...rest}
    />
  );
}
