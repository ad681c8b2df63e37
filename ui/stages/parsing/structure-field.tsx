'use client';

import { useState } from 'react';
import { parse, stringify } from 'yaml';
import { FaultText } from '../../kit/text-field.tsx';

/** A structure, edited as YAML; it is taken over when the field is left and the text can be read. */
export function StructureField(props: {
  readonly label: string;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}) {
  const [fault, setFault] = useState('');
  const take = (text: string): void => {
    try {
      const value: unknown = text.trim() === '' ? undefined : parse(text);
      setFault('');
      props.onChange(value);
    } catch (error) {
      setFault(error instanceof Error ? (error.message.split('\n')[0] ?? '') : 'This is not valid YAML.');
    }
  };
  return (
    <label className="w-full">
      <span className="block text-[12.5px] font-semibold text-second">{props.label}</span>
      <textarea
        defaultValue={props.value === undefined ? '' : stringify(props.value)}
        onBlur={(event) => take(event.target.value)}
        className="line mt-1 h-36 w-full rounded-[5px] border border-hair bg-sheet p-2"
      />
      {fault !== '' && <FaultText text={fault} />}
    </label>
  );
}
