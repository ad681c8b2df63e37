'use client';

import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { BookPath, PriceBookDraft } from '#core/costs/book/price-book-draft.ts';
import { Button } from '../../kit/button.tsx';
import { TextField } from '../../kit/text-field.tsx';

/** What is wrong at a place of the book. */
export interface BookProblem {
  readonly path: string;
  readonly message: string;
}

interface Props {
  readonly draft: PriceBookDraft;
  readonly problems: readonly BookProblem[];
  readonly onChange: (text: string) => void;
}

interface PartProps extends Props {
  readonly path: BookPath;
}

/** A price book field by field: what is written goes into its YAML, with its comments. */
export function PriceForm(props: Props) {
  const { draft, onChange } = props;
  const entries = draft.count(['entries']);
  const budgets = draft.count(['budgets']);
  const today = new Date().toISOString().slice(0, 10);
  return (
    <div className="flex flex-col gap-4">
      <div className="grid grid-cols-2 gap-3">
        <BookField {...props} path={['currency', 'sign']} label="Currency sign" />
        <BookField {...props} path={['currency', 'digits']} label="Decimal digits" />
      </div>
      {Array.from({ length: entries }, (_, i) => (
        // Entries have no names; they are told apart by where they stand.
        <Entry key={`entry-${i}`} {...props} path={['entries', i]} isOnly={entries === 1} />
      ))}
      <Add onClick={() => onChange(draft.withPart(['entries'], { from: today }))}>Add prices from a later day</Add>
      <fieldset className="border-t border-hair pt-2">
        <legend className="float-left mb-1 w-full font-semibold">Monthly budgets</legend>
        <div className="clear-both" />
        {Array.from({ length: budgets }, (_, i) => (
          <Part key={`budget-${i}`} {...props} path={['budgets', i]} name={`budget ${i + 1}`}>
            <BookField {...props} path={['budgets', i, 'amount']} label="At most" />
            <BookField {...props} path={['budgets', i, 'team']} label="of team" />
            <BookField {...props} path={['budgets', i, 'fleet']} label="of fleet" />
            <BookField {...props} path={['budgets', i, 'tier']} label="of tier" />
          </Part>
        ))}
        <Add onClick={() => onChange(draft.withPart(['budgets'], { amount: 100 }))}>Add budget</Add>
      </fieldset>
    </div>
  );
}

const rates = [
  ['received', 'GB received'],
  ['stored', 'GB stored per month'],
  ['series', 'series per month'],
  ['scanned', 'GB scanned'],
  ['archived', 'GB archived'],
  ['sent', 'GB sent on'],
] as const;

/** Rates that are shown before there is anything that they are for. */
const toCome: ReadonlySet<string> = new Set(['scanned', 'archived', 'sent']);

/** Prices from a day on. */
function Entry({ isOnly, ...props }: PartProps & { readonly isOnly: boolean }) {
  const { draft, path, onChange } = props;
  const from = draft.at([...path, 'from']);
  const own = draft.count([...path, 'own']);
  return (
    <fieldset className="border-t border-hair pt-2">
      <legend className="float-left mb-1 flex w-full items-center justify-between font-semibold">
        Prices from {from || '…'}
        {!isOnly && <TakeOut name={`the prices from ${from}`} onClick={() => onChange(draft.without(path))} />}
      </legend>
      <div className="clear-both flex flex-col gap-2">
        <BookField {...props} path={[...path, 'from']} label="Valid from" className="w-40" />
        <Rates {...props} />
        <Curve {...props} path={[...path, 'kept']} />
        <div className="grid grid-cols-2 gap-2">
          <BookField {...props} path={[...path, 'discount', 'percent']} label="Percent off received" />
          <BookField {...props} path={[...path, 'discount', 'above']} label="above GB per month" />
        </div>
        {Array.from({ length: own }, (_, i) => (
          <Part key={`own-${i}`} {...props} path={[...path, 'own', i]} name={`own rates ${i + 1}`}>
            <BookField {...props} path={[...path, 'own', i, 'team']} label="For team" />
            <BookField {...props} path={[...path, 'own', i, 'tier']} label="of tier" />
            <BookField {...props} path={[...path, 'own', i, 'received']} label="GB received" />
            <BookField {...props} path={[...path, 'own', i, 'stored']} label="GB stored per month" />
          </Part>
        ))}
        <Add onClick={() => onChange(draft.withPart([...path, 'own'], {}))}>Add rates for a team or tier</Add>
      </div>
    </fieldset>
  );
}

function Rates(props: PartProps) {
  const { draft, path } = props;
  const isNamed = (rate: string): boolean => draft.at([...path, rate]) !== '';
  const [areAllShown, setAllShown] = useState(() => rates.some(([rate]) => toCome.has(rate) && isNamed(rate)));
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        {rates.map(
          ([rate, title]) =>
            (areAllShown || !toCome.has(rate)) && (
              <BookField key={rate} {...props} path={[...path, rate]} label={`A ${title}`} />
            ),
        )}
      </div>
      {!areAllShown && <Add onClick={() => setAllShown(true)}>Scanning, archives, sending on</Add>}
    </>
  );
}

/** What a million events cost by the days that they are kept. */
function Curve(props: PartProps) {
  const { draft, path, onChange } = props;
  const points = draft.count(path);
  const last = Number(draft.at([...path, points - 1, 'days'])) || 0;
  return (
    <div>
      <p className="text-[12.5px] font-semibold text-second">A million events, by days kept</p>
      {Array.from({ length: points }, (_, i) => (
        <Part key={`point-${i}`} {...props} path={[...path, i]} name={`point ${i + 1}`} hasLabels={i === 0}>
          <BookField {...props} path={[...path, i, 'days']} label="days" isLabelHidden={i > 0} />
          <BookField {...props} path={[...path, i, 'price']} label="price" isLabelHidden={i > 0} />
        </Part>
      ))}
      <Add onClick={() => onChange(draft.withPart(path, { days: last + 15, price: 0 }))}>Add point</Add>
    </div>
  );
}

/** Fields side by side that can be taken out together. */
function Part({
  draft,
  path,
  name,
  onChange,
  hasLabels = true,
  children,
}: PartProps & { readonly name: string; readonly hasLabels?: boolean; readonly children: React.ReactNode }) {
  return (
    <div className="mt-1 flex items-start gap-2">
      <div className="grid flex-1 grid-cols-2 gap-2">{children}</div>
      <TakeOut name={name} isLow={hasLabels} onClick={() => onChange(draft.without(path))} />
    </div>
  );
}

/** One value of the book; what is typed goes into it at once. */
function BookField({
  draft,
  path,
  problems,
  label,
  isLabelHidden = false,
  onChange,
  className,
}: PartProps & { readonly label: string; readonly isLabelHidden?: boolean; readonly className?: string }) {
  const written = draft.at(path);
  const [typed, setTyped] = useState<string | undefined>();
  const place = pathInWords(path);
  const fault = problems.find((problem) => problem.path === place)?.message ?? '';
  return (
    <TextField
      label={label}
      isLabelHidden={isLabelHidden}
      {...(className && { className })}
      value={typed ?? written}
      fault={fault}
      onChange={(event) => {
        setTyped(event.target.value);
        onChange(draft.with(path, event.target.value));
      }}
      onBlur={() => setTyped(undefined)}
    />
  );
}

/** A path as problems have it: `entries[0].kept[1].price`. */
function pathInWords(path: BookPath): string {
  return path.reduce<string>(
    (words, part) => (typeof part === 'number' ? `${words}[${part}]` : words === '' ? part : `${words}.${part}`),
    '',
  );
}

function Add({ onClick, children }: { readonly onClick: () => void; readonly children: string }) {
  return (
    <Button look="quiet" className="-ml-3 text-[12.5px]" onClick={onClick}>
      <Plus size={13} aria-hidden="true" className="mr-1 inline" />
      {children}
    </Button>
  );
}

function TakeOut({
  name,
  isLow = false,
  onClick,
}: {
  readonly name: string;
  /** Whether it is beside fields with labels above them. */
  readonly isLow?: boolean;
  readonly onClick: () => void;
}) {
  return (
    <button
      type="button"
      onClick={onClick}
      aria-label={`Take out ${name}`}
      className={`${isLow ? 'mt-8' : 'mt-2'} text-second hover:text-danger`}
    >
      <X size={14} aria-hidden="true" />
    </button>
  );
}
