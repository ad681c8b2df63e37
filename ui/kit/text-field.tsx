import { Description, Field, Input, Label } from '@headlessui/react';
import type { ComponentProps } from 'react';

/** A line of text with its label above, and what is wrong with it below. */
export function TextField({
  label,
  isLabelHidden = false,
  mono = false,
  fault = '',
  className = '',
  ...rest
}: Omit<ComponentProps<'input'>, 'disabled' | 'autoFocus' | 'ref'> & {
  readonly label: string;
  /** Whether the label is for those alone who do not see it. */
  readonly isLabelHidden?: boolean;
  readonly mono?: boolean;
  /** What is wrong, in words; empty for nothing. */
  readonly fault?: string;
}) {
  return (
    <Field className={className}>
      <Label className={isLabelHidden ? 'sr-only' : 'block text-[12.5px] font-semibold text-second'}>{label}</Label>
      <Input
        invalid={fault !== ''}
        className={`${isLabelHidden ? '' : 'mt-1'} w-full rounded-[5px] border bg-sheet px-2.5 py-1 ${fault === '' ? 'border-hair' : 'border-danger'} ${mono ? 'line' : ''}`}
        {...rest}
      />
      <Fault text={fault} />
    </Field>
  );
}

const faultLook = 'mt-0.5 flex gap-1.5 text-[12.5px] text-danger';

/** What is wrong with the field above; inside a Headless UI field, which it describes. */
export function Fault({ text }: { readonly text: string }) {
  if (text === '') return null;
  return (
    <Description role="alert" className={faultLook}>
      <span aria-hidden="true">◆</span>
      <span>{text}</span>
    </Description>
  );
}

/** What is wrong with the field beside it, where that is no Headless UI field. */
export function FaultText({ text }: { readonly text: string }) {
  return (
    <span role="alert" className={faultLook}>
      <span aria-hidden="true">◆</span>
      <span>{text}</span>
    </span>
  );
}
