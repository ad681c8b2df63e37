import { Field, Input, Label } from '@headlessui/react';
import type { ComponentProps } from 'react';

/** A line of text with its label above. */
export function TextField({
  label,
  mono = false,
  className = '',
  ...rest
}: Omit<ComponentProps<'input'>, 'disabled' | 'autoFocus' | 'ref'> & {
  readonly label: string;
  readonly mono?: boolean;
}) {
  return (
    <Field className={className}>
      <Label className="block text-[12.5px] font-semibold text-second">{label}</Label>
      <Input
        className={`mt-1 w-full rounded-[5px] border border-hair bg-sheet px-2.5 py-1 ${mono ? 'line' : ''}`}
        {...rest}
      />
    </Field>
  );
}
