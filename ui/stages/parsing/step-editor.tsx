'use client';

import { type StepDocument, stepDocument, stepParts } from '#core/plan/document.ts';
import { stepKinds } from '#core/steps/index.ts';
import { TemplateEditor } from '../../editors/template-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { MaskAtSource } from '../../kit/mask-at-source.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { failingKinds, type StepFormField, stepForms } from './step-forms.ts';
import { StructureField } from './structure-field.tsx';
import { TableField } from './table-field.tsx';

type Options = Readonly<Record<string, unknown>>;

/** Edits one step: what it does, for which events, and what happens to an event it cannot handle. */
export function StepEditor({
  step,
  source,
  onChange,
  onRemove,
}: {
  readonly step: StepDocument;
  /** The source whose lines the pipeline takes; empty when it names none. */
  readonly source: string;
  readonly onChange: (step: StepDocument) => void;
  readonly onRemove: () => void;
}) {
  const parts = stepParts(step);
  const { kind, options } = parts;
  const setOptions = (next: Options): void => onChange(stepDocument({ ...parts, options: next }));
  return (
    <div className="flex flex-col gap-3">
      <p className="text-second">{stepKinds.get(kind)?.help}</p>
      {kind === 'extract' ? (
        <Templates options={options} onChange={setOptions} />
      ) : (
        <OptionFields kind={kind} options={options} onChange={setOptions} />
      )}
      {kind === 'mask' && source !== '' && <MaskAtSource options={options} source={source} onMoved={onRemove} />}
      <div className="flex flex-wrap items-end gap-4">
        <TextField
          mono
          label="Only events for which"
          className="w-[320px]"
          placeholder="all that enter the pipeline"
          value={parts.when}
          onChange={(event) => onChange(stepDocument({ ...parts, when: event.target.value }))}
        />
        {failingKinds.has(kind) && (
          <div>
            <span className="mb-1 block text-[12.5px] font-semibold text-second">An event it cannot handle</span>
            <Choice
              label="An event it cannot handle"
              value={parts.onFailure}
              onChange={(onFailure) => onChange(stepDocument({ ...parts, onFailure }))}
              options={[
                { value: 'keep', title: 'is kept and marked' },
                { value: 'reject', title: 'is rejected' },
                { value: 'discard', title: 'is discarded' },
              ]}
            />
          </div>
        )}
      </div>
    </div>
  );
}

function Templates({
  options,
  onChange,
}: {
  readonly options: Options;
  readonly onChange: (options: Options) => void;
}) {
  const texts = Array.isArray(options.templates) ? options.templates.map(String) : [String(options.template ?? '')];
  const from = String(options.from ?? 'body');
  const set = (next: readonly string[]): void =>
    onChange(next.length === 1 ? { from, template: next[0] } : { from, templates: next });
  return (
    <>
      {texts.map((text, index) => (
        <div key={index}>
          <div className="mb-1 flex items-center justify-between">
            <h2>
              Template {index + 1} of {texts.length}
            </h2>
            {texts.length > 1 && (
              <Button look="quiet" onClick={() => set(texts.filter((_, i) => i !== index))}>
                Remove
              </Button>
            )}
          </div>
          <TemplateEditor
            label={`Template ${index + 1}`}
            value={text}
            onChange={(next) => next !== text && set(texts.map((old, i) => (i === index ? next : old)))}
          />
        </div>
      ))}
      <div className="flex items-center gap-4">
        <Button onClick={() => set([...texts, texts[texts.length - 1] ?? ''])}>Add a template</Button>
        <span className="text-[12.5px] text-second">
          Tried in order. Write {'{name}'}, {'{name:type}'}, {'{}'} to skip, {'{name?}'} where it may be empty.
        </span>
      </div>
    </>
  );
}

function OptionFields({
  kind,
  options,
  onChange,
}: {
  readonly kind: string;
  readonly options: Options;
  readonly onChange: (options: Options) => void;
}) {
  const fields = stepForms[kind]?.fields ?? [];
  return (
    <div className="flex flex-wrap gap-4">
      {fields.map((field) => (
        <OptionField
          key={field.name}
          field={field}
          value={options[field.name]}
          onChange={(value) => {
            const { [field.name]: _, ...others } = options;
            onChange(value === undefined ? others : { ...others, [field.name]: value });
          }}
        />
      ))}
    </div>
  );
}

function OptionField({
  field,
  value,
  onChange,
}: {
  readonly field: StepFormField;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}) {
  const label = <span className="block text-[12.5px] font-semibold text-second">{field.label}</span>;
  if (field.kind === 'choice') {
    return (
      <label>
        {label}
        <select
          value={String(value ?? '')}
          onChange={(event) => onChange(event.target.value || undefined)}
          className="mt-1 rounded-[5px] border border-hair bg-sheet px-2 py-1"
        >
          <option value="">–</option>
          {field.choices?.map((choice) => (
            <option key={choice}>{choice}</option>
          ))}
        </select>
      </label>
    );
  }
  if (field.kind === 'yaml') return <StructureField label={field.label} value={value} onChange={onChange} />;
  if (field.kind === 'tables')
    return <TableField label={field.label} value={String(value ?? '')} onChange={onChange} />;
  if (field.kind === 'map') {
    const lines = Object.entries((value as Record<string, string> | undefined) ?? {}).map(
      ([key, word]) => `${key} = ${word}`,
    );
    return (
      <label className="w-full">
        {label}
        <textarea
          defaultValue={lines.join('\n')}
          onBlur={(event) => onChange(readMap(event.target.value))}
          className="line mt-1 h-20 w-full rounded-[5px] border border-hair bg-sheet p-2"
        />
      </label>
    );
  }
  const text = field.kind === 'list' && Array.isArray(value) ? value.join(', ') : String(value ?? '');
  const read = (typed: string): unknown =>
    field.kind === 'list' ? typed.split(',').map((part) => part.trim()) : typed === '' ? undefined : typed;
  return (
    <TextField
      mono
      label={field.label}
      className={field.wide ? 'w-full' : 'w-[200px]'}
      value={text}
      onChange={(event) => onChange(read(event.target.value))}
    />
  );
}

function readMap(text: string): Readonly<Record<string, string>> | undefined {
  const pairs = text
    .split('\n')
    .map((line) => line.split('=').map((part) => part.trim()))
    .filter(([key, word]) => key && word);
  return pairs.length > 0 ? Object.fromEntries(pairs) : undefined;
}
