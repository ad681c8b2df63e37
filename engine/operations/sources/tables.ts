import { operations } from '#core/operations/index.ts';
import { answerLookups } from '#core/steps/lookups.ts';
import { parseTable } from '#core/tables/table.ts';
import { removeTable as deleteTable, listTables, saveTable as storeTable } from '#store/plan/lookup-tables.ts';
import { placeOf } from '../../workers/places.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

export const tables = question(operations.tables, async (_input, { database }) => ({
  tables: await listTables(database),
}));

export const saveTable = command(operations.saveTable, {
  subject: ({ name }) => name,
  record: ({ name, csv }) => ({ name, bytes: csv.length }),
  carryOut: async ({ name, csv }, { tx, now }) => {
    const parsed = parseTable(csv);
    if (!parsed.ok) throw new Refusal(400, '', parsed.message);
    await storeTable(tx, { name, csv, changedAt: now });
    return { columns: parsed.table.columns, rows: parsed.table.rows };
  },
});

export const removeTable = command(operations.removeTable, {
  subject: ({ name }) => name,
  carryOut: async ({ name }, { tx }) => {
    if (!(await deleteTable(tx, name))) throw new Refusal(404, '', `There is no table ${name.slice(0, 100)}.`);
    return {};
  },
});

export const lookups = question(operations.lookups, async (asked, services) =>
  answerLookups(asked, { table: (name) => services.lookups.get(name), place: placeOf }),
);
