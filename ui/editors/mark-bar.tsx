'use client';

import { type FormEvent, useState } from 'react';
import { guessType } from '#core/templates/guess-type.ts';
import { typesOf } from '#core/templates/learn.ts';
import { Button } from '../kit/button.tsx';
import { Select } from '../kit/select.tsx';
import { FaultText } from '../kit/text-field.tsx';

const fieldName = /^[\w.@-]+$/;

/** Names a selected piece of a line and says what type it has. */
export function MarkBar(props: {
  readonly value: string;
  /** Where a field of that name comes from already. */
  readonly knownField: (name: string) => string | undefined;
  readonly onMark: (name: string, type: string) => void;
  readonly onLeave: () => void;
}) {
  const [name, setName] = useState('');
  const [type, setType] = useState('guess');
  const known = props.knownField(name);
  const isName = fieldName.test(name);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (isName) props.onMark(name, type);
  };
  return (
    <form onSubmit={submit} className="flex items-center gap-2 bg-land px-2 py-1.5" aria-label="Create field">
      <code className="line max-w-[240px] truncate">{props.value}</code>
      <span>is</span>
      <input
        // biome-ignore lint/a11y/noAutofocus: the bar opens where text was just selected, and its name is what comes next
        autoFocus
        aria-label="Field name"
        aria-invalid={name !== '' && !isName}
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === 'Escape' && props.onLeave()}
        placeholder="name"
        className="line w-[130px] rounded-[5px] border border-hair bg-sheet px-2 py-0.5"
      />
      <Select
        label="Type"
        isLabelHidden
        value={type}
        options={[
          { value: 'guess', title: `${guessType([props.value])} (as it looks)` },
          ...typesOf(props.value).map((name) => ({ value: name, title: name })),
        ]}
        onChange={setType}
      />
      <Button type="submit" look="main" className="py-0.5!" disabled={!isName}>
        Create field
      </Button>
      <Button look="quiet" className="px-1! py-0.5!" onClick={props.onLeave}>
        Cancel
      </Button>
      {name !== '' && !isName && <FaultText text="A name has letters, digits and . _ @ -" />}
      {known && <span className="text-[12.5px] text-caution">▲ exists already: {known}</span>}
    </form>
  );
}
