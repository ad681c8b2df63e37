'use client';

import { parseAsStringLiteral, useQueryState } from 'nuqs';
import { useMemo } from 'react';
import { ownServers, paidByVolume } from '#core/costs/book/price-book.ts';
import { PriceBookDraft } from '#core/costs/book/price-book-draft.ts';
import { writePriceBook } from '#core/costs/book/price-book-text.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import type { PricesAnswer } from '../../data/answers.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { saveFile } from '../../kit/save-file.ts';
import { Section } from '../../kit/section.tsx';
import { monthInWords } from '../../kit/times/month-in-words.ts';
import { dayAndMinute } from '../../kit/times/times.ts';
import { PriceForm } from './price-form.tsx';
import { showMoney } from './show-money.ts';
import type { PriceBookEditor } from './use-price-book.ts';
import { usePriceBook } from './use-price-book.ts';

const starters = [
  ['own servers', ownServers],
  ['paid by volume', paidByVolume],
] as const;

/** The price book as fields or as text, with what this month would come to. */
export function PricesPanel() {
  const editor = usePriceBook();
  const { data, text, problems, month, edit } = editor;
  const draft = useMemo(() => new PriceBookDraft(text), [text]);
  const [form, setForm] = useQueryState('book', parseAsStringLiteral(['fields', 'text']).withDefault('fields'));
  return (
    <div className="flex flex-col gap-3">
      <p className="text-[12.5px] text-second">
        Each entry is valid from its day (UTC) until the next one, so past days keep their prices. Prices are per GB
        received, per million events kept (by the days of their tier), per GB stored for a month, and per metric series
        for a month.
      </p>
      {!data?.text && <Starters onTake={edit} />}
      <Choice
        label="Edit as"
        value={form}
        onChange={(value) => void setForm(value)}
        options={[
          { value: 'fields', title: 'Fields' },
          { value: 'text', title: 'Text' },
        ]}
      />
      {form === 'fields' && draft.isWhole && <PriceForm draft={draft} problems={problems} onChange={edit} />}
      {form === 'fields' && !draft.isWhole && (
        <p className="text-second">
          {text === ''
            ? 'Start from one of these books, or write one as text.'
            : 'This text is not a price book yet. Edit it as text.'}
        </p>
      )}
      {form === 'text' && (
        <label>
          <span className="block text-[12.5px] font-semibold text-second">YAML</span>
          <textarea
            value={text}
            spellCheck={false}
            onChange={(event) => edit(event.target.value)}
            className="line mt-1 h-80 w-full rounded-[5px] border border-hair bg-sheet p-2"
          />
        </label>
      )}
      <Outcome problems={problems} month={month} />
      <BookActions editor={editor} />
      {data && data.history.length > 0 && <Earlier history={data.history} onTake={edit} />}
    </div>
  );
}

/** Books to start from. */
function Starters({ onTake }: { readonly onTake: (text: string) => void }) {
  return (
    <p className="text-[12.5px] text-second">
      Start from{' '}
      {starters.map(([title, book]) => (
        <Button key={title} look="quiet" onClick={() => onTake(writePriceBook(book))}>
          {title}
        </Button>
      ))}
    </p>
  );
}

/** What is wrong with the book that is written, or what the month costs with it. */
function Outcome({ problems, month }: Pick<PriceBookEditor, 'problems' | 'month'>) {
  if (problems.length === 0)
    return (
      <div role="status">
        {month?.currency && (
          <p>
            With it {monthInWords(month.from)} {month.end ? 'comes to' : 'cost so far'}{' '}
            <b className="font-[650]">{formatCoins(month.end?.middle ?? month.spent, month.currency)}</b>.
          </p>
        )}
      </div>
    );
  return (
    <div role="status">
      <ul className="text-danger">
        {problems.map((problem) => (
          <li key={problem.path + problem.message}>
            ◆ {problem.place}
            {problem.message}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Saves the book, turns money off, and takes books in and out as files. */
function BookActions({ editor: { data, edit, canSave, save } }: { readonly editor: PriceBookEditor }) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <Button look="main" className="whitespace-nowrap" disabled={!canSave} onClick={() => void save()}>
        Save price book
      </Button>
      {data?.text && data.shown && (
        <Button look="quiet" onClick={() => void showMoney(false)}>
          Turn money off
        </Button>
      )}
      <label className="cursor-pointer px-3 font-semibold text-mark hover:underline">
        Import
        <input
          type="file"
          accept=".yaml,.yml,.json"
          className="sr-only"
          onChange={(event) => void event.target.files?.[0]?.text().then(edit)}
        />
      </label>
      {data?.text && (
        <Button look="quiet" onClick={() => saveFile('prices.yaml', 'application/yaml', data.text ?? '')}>
          Export
        </Button>
      )}
      {data?.savedAt && <span className="text-[12.5px] text-second">saved {dayAndMinute(data.savedAt)}</span>}
    </div>
  );
}

/** Books that were saved before, each to be taken up again. */
function Earlier({
  history,
  onTake,
}: {
  readonly history: PricesAnswer['history'];
  readonly onTake: (text: string) => void;
}) {
  return (
    <Section title="Earlier versions" className="mt-2 border-t border-hair pt-2">
      <ul>
        {history.map(({ savedAt, text }) => (
          <li key={savedAt} className="flex items-center justify-between border-t border-hair text-[12.5px]">
            {dayAndMinute(savedAt)}
            <Button
              look="quiet"
              aria-label={`Restore the price book of ${dayAndMinute(savedAt)}`}
              onClick={() => onTake(text)}
            >
              Restore
            </Button>
          </li>
        ))}
      </ul>
    </Section>
  );
}
