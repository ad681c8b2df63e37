'use client';

import { checkStep } from '#core/plan/parts/pipelines/check-step.ts';
import { stepKinds } from '#core/steps/index.ts';
import { type StepDocument, stepDocument, stepParts } from '#core/steps/step-document.ts';
import { ConditionDoubts } from '../../editors/condition-doubts.tsx';
import { TemplateEditor } from '../../editors/template-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { MaskAtSource } from '../../kit/mask-at-source.tsx';
import { Select } from '../../kit/select.tsx';
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
  const faults = faultsOf(step);
  const setOptions = (next: Options): void => onChange(stepDocument({ ...parts, options: next }));
  return (
    <div className="flex flex-col gap-3">
      <p className="text-second">{stepKinds.get(kind)?.help}</p>
      {kind === 'extract' ? (
        <Templates options={options} faults={faults} onChange={setOptions} />
      ) : (
        <OptionFields kind={kind} options={options} faults={faults} onChange={setOptions} />
      )}
      {kind === 'mask' && source !== '' && <MaskAtSource options={options} source={source} onMoved={onRemove} />}
      {faults.has('') && (
        <p role="alert" className="text-[12.5px] text-danger">
          ◆ {faults.get('')}
        </p>
      )}
      <div className="flex flex-wrap items-end gap-4">
        <TextField
          mono
          label="Only events for which"
          name="when"
          fault={faults.get('when') ?? ''}
          className="w-[320px]"
          placeholder="all events that enter the pipeline"
          value={parts.when}
          onChange={(event) => onChange(stepDocument({ ...parts, when: event.target.value }))}
        />
        <ConditionDoubts isRaw text={parts.when} onTake={(when) => onChange(stepDocument({ ...parts, when }))} />
        {failingKinds.has(kind) && (
          <div>
            <span className="mb-1 block text-[12.5px] font-semibold text-second">If an event fails</span>
            <Choice
              label="If an event fails"
              value={parts.onFailure}
              onChange={(onFailure) => onChange(stepDocument({ ...parts, onFailure }))}
              options={[
                { value: 'keep', title: 'keep and mark it' },
                { value: 'reject', title: 'reject it' },
                { value: 'discard', title: 'drop it' },
              ]}
            />
          </div>
        )}
      </div>
    </div>
  );
}

/** What is wrong with a step, by the field that it is about; what is about none of them is under an empty name. */
function faultsOf(step: StepDocument): ReadonlyMap<string, string> {
  const { kind } = stepParts(step);
  const faults = new Map<string, string>();
  for (const { path, message } of checkStep(step, '')) {
    const [first = '', second = ''] = path.split(/[.[\]]+/).filter((part) => part !== '');
    const field = first === kind ? second : first;
    if (!faults.has(field)) faults.set(field, message);
  }
  return faults;
}

interface FieldFaults {
  readonly faults: ReadonlyMap<string, string>;
}

function Templates({
  options,
  faults,
  onChange,
}: FieldFaults & {
  readonly options: Options;
  readonly onChange: (options: Options) => void;
}) {
  const texts = Array.isArray(options.templates) ? options.templates.map(String) : [String(options.template ?? '')];
  const from = String(options.from ?? 'body');
  const isEmpty = texts.every((text) => text === '');
  const set = (next: readonly string[]): void =>
    onChange(next.length === 1 ? { from, template: next[0] } : { from, templates: next });
  return (
    <>
      {texts.map((text, index) => (
        <div key={index} data-field={index === 0 ? 'template' : `templates-${index}`}>
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
      {isEmpty && (
        <p className="text-[12.5px] text-second">
          It has no template yet: add a proposed one below, select the first field in a line of the sample, or write it
          here.
        </p>
      )}
      {['template', 'templates', 'from'].map(
        (name) =>
          faults.has(name) &&
          !isEmpty && (
            <p key={name} role="alert" className="flex gap-1.5 text-[12.5px] text-danger">
              <span aria-hidden="true">◆</span>
              <span>{faults.get(name)}</span>
            </p>
          ),
      )}
      <div className="flex items-center gap-4">
        <Button onClick={() => set([...texts, texts[texts.length - 1] ?? ''])}>Add template</Button>
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
  faults,
  onChange,
}: FieldFaults & {
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
          fault={faults.get(field.name) ?? ''}
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
  fault,
  value,
  onChange,
}: {
  readonly field: StepFormField;
  readonly fault: string;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}) {
  const label = <span className="block text-[12.5px] font-semibold text-second">{field.label}</span>;
  if (field.kind === 'choice') {
    return (
      <Select
        label={field.label}
        value={String(value ?? '')}
        options={[
          { value: '', title: '–' },
          ...(field.choices ?? []).map((choice) => ({ value: choice, title: choice })),
        ]}
        onChange={(chosen) => onChange(chosen || undefined)}
      />
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
      name={field.name}
      fault={fault}
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
