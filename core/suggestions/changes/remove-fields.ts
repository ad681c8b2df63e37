import { inCurrency } from '../../costs/money.ts';
import type { ChangeKind } from './change-kind.ts';
import { monthlySaving } from './monthly-saving.ts';

/** A field that is a smaller part of its source is not worth a step. */
const leastShare = 0.01;
/** Fields that a title names. */
const mostNamed = 3;

/**
 * Leaves out fields of a source that nothing uses. They save their share of what storing its events costs; receiving them costs the
 * same. Nothing is suggested while usage is not known for a week, or of a source that was exported: exports hold all fields.
 */
export const removeFields: ChangeKind = {
  kind: 'remove-fields',
  suggest: ({ usedFields, exported, fieldShares, sourceDaysOf, prices }) => {
    if (!usedFields) return [];
    return [...fieldShares].flatMap(([source, shares]) => {
      const unused = [...shares].filter(([name, share]) => share >= leastShare && !usedFields.has(name.toLowerCase()));
      const days = sourceDaysOf(source);
      if (unused.length === 0 || days.length === 0 || exported.has(source)) return [];
      const share = unused.reduce((sum, [, part]) => sum + part, 0);
      const fields = unused.sort((a, b) => b[1] - a[1]).map(([name]) => name);
      const saved = days.map(({ flows }) =>
        flows.reduce((sum, flow) => sum + inCurrency(prices.costOf(flow).stored) * share, 0),
      );
      return {
        ...{ id: `fields:${source}`, ...monthlySaving(saved.map((amount) => amount * 10 ** prices.currency.digits)) },
        title: `${source}: leave out ${namesInWords(fields)}`,
        reason: `${Math.round(share * 100)} % of its bytes; no search, figure, metric or step uses ${fields.length === 1 ? 'it' : 'them'}`,
        edit: { kind: 'remove-fields', source, fields },
      };
    });
  },
};

function namesInWords(fields: readonly string[]): string {
  const named = fields.slice(0, mostNamed).join(', ');
  const more = fields.length - mostNamed;
  return more > 0 ? `${named} and ${more} more ${more === 1 ? 'field' : 'fields'}` : named;
}
