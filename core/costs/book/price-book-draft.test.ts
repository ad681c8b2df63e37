import { expect, test } from 'vitest';
import { PriceBookDraft } from './price-book-draft.ts';

const text = `prices: 1
currency: { sign: cr, digits: 2 }
entries:
  - from: 2026-10-01 # the new contract
    received: 320
    kept:
      - { days: 3, price: 18 }
`;

test('a book is changed place by place, and keeps its comments and all that is wrong with it', () => {
  const draft = new PriceBookDraft(text);
  expect(draft.isWhole).toBe(true);
  expect(draft.at(['entries', 0, 'received'])).toBe('320');
  expect(draft.at(['entries', 0, 'kept'])).toBe('');
  expect(draft.count(['entries', 0, 'kept'])).toBe(1);
  expect(draft.with(['entries', 0, 'received'], '-1.50')).toBe(text.replace('320', '-1.50').replace('-1.50', '-1.5'));
  expect(draft.with(['entries', 0, 'received'], 'much')).toContain('received: much');
  expect(draft.with(['entries', 0, 'discount', 'percent'], '10')).toContain('discount:\n      percent: 10');
});

test('what is taken out leaves nothing empty behind', () => {
  const draft = new PriceBookDraft(text);
  const bare = draft.without(['entries', 0, 'kept', 0]);
  expect(bare).not.toContain('kept');
  expect(bare).toContain('# the new contract');
  const withBudget = draft.withPart(['budgets'], { amount: 100 });
  const more = new PriceBookDraft(withBudget).withPart(['budgets'], { amount: 5, team: 'sea' });
  expect(new PriceBookDraft(more).count(['budgets'])).toBe(2);
  expect(new PriceBookDraft(withBudget).without(['budgets', 0])).toBe(text);
  const discounted = new PriceBookDraft(draft.with(['entries', 0, 'discount', 'percent'], '10'));
  expect(discounted.with(['entries', 0, 'discount', 'percent'], ' ')).toBe(text);
});

test.each(['', 'just words', 'a: [', '- 1'])('%j is no book that has fields', (wrong) => {
  const draft = new PriceBookDraft(wrong);
  expect(draft.isWhole).toBe(false);
  expect(draft.at(['entries', 0, 'received'])).toBe('');
  expect(draft.count(['entries'])).toBe(0);
});
