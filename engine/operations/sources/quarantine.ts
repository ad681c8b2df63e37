import type { QuarantineAnswer } from '#core/answers/search.ts';
import { operations } from '#core/operations/index.ts';
import { listQuarantine, readQuarantined, removeQuarantined as takeOut } from '#store/events/quarantine.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import { inTurn } from '../../base/in-turn.ts';
import { takenBack, takenBackEntries } from '../../commit/quarantine.ts';
import { handIn } from '../../intake/hand-in.ts';
import { command, longCommand, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

const gone = (): Refusal => new Refusal(404, '', 'This delivery is no longer set aside.');

export const quarantine = question(
  operations.quarantine,
  async (_input, { database }): Promise<QuarantineAnswer> => ({ deliveries: await listQuarantine(database) }),
);

/** Sends a delivery through the intake once more; it is taken out when it is stored, and stays where it fails again. */
export const retryQuarantined = longCommand(operations.retryQuarantined, {
  subject: ({ id }) => String(id),
  carryOut: async ({ id }, { database, queue }, _asking, record) => {
    const row = await readQuarantined(database, id);
    if (!row) throw gone();
    const { key: _, ...delivery } = takenBack(row);
    const keyed = { ...delivery, key: `quarantine ${id}` };
    const answer = await handIn(queue, { delivery: keyed, bytes: row.bytes, patient: false });
    if (answer.kind === 'full' || answer.kind === 'away')
      throw new Refusal(503, '', 'The engine or its store is busy. The delivery stays set aside; try again.');
    if (answer.kind !== 'stored') throw new Refusal(409, '', 'It cannot be stored. It stays set aside.');
    await inTurn(() =>
      database.db.transaction(async (tx) => {
        await record(tx);
        if (await takeOut(tx, id)) await addToLedger(tx, takenBackEntries(row));
      }),
    );
    return { accepted: answer.accepted, rejected: answer.rejected };
  },
});

export const removeQuarantined = command(operations.removeQuarantined, {
  subject: ({ id }) => String(id),
  carryOut: async ({ id }, { tx }) => {
    if (!(await takeOut(tx, id))) throw gone();
    return {};
  },
});
