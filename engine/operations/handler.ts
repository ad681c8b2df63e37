import type { Readable } from 'node:stream';
import { type AnyObject, type InferType, type ObjectSchema, object } from 'yup';
import type { Operation } from '#core/operations/operation.ts';
import { countChange } from '#store/cluster/counters.ts';
import type { Queryable } from '#store/database.ts';
import { addToAudit } from '#store/people/audit.ts';
import { inTurn } from '../base/in-turn.ts';
import type { OperationServices } from './services.ts';

/** Who asks, and how. */
export interface Asking {
  /** Aborted when nobody waits for the answer any more. */
  readonly signal: AbortSignal;
  /** Reports how far it has come, to whoever wants to know. */
  readonly progress: (value: object) => void;
  /** Whether anybody wants to know. */
  readonly isFollowed: boolean;
  /** The body of an operation that takes no JSON. */
  readonly body: Readable | undefined;
  /** Who it is; empty as long as there are no accounts. */
  readonly who: string;
}

/** An answer that is no JSON and may be long: it is sent as it is made. */
export class StreamAnswer {
  constructor(
    readonly pieces: AsyncIterable<string | Uint8Array>,
    readonly type: string,
    /** The name under which it is saved; absent: it is no file. */
    readonly file?: string,
  ) {}
}

/** An answer that is no JSON. */
export class TextAnswer {
  constructor(
    readonly text: string,
    readonly type: string,
    readonly file: string,
  ) {}
}

/** Carries one operation out. Throws a `Refusal`, or Yup's error about the input, when it is not done. */
export interface Handler<Answer extends object | null = object | null> {
  readonly operation: Operation;
  readonly answer: (services: OperationServices, given: unknown, asking: Asking) => Promise<Answer>;
}

/** An operation that changes nothing. */
export function question<Input extends ObjectSchema<AnyObject>, Answer extends object | null>(
  operation: Operation<Input>,
  answer: (input: InferType<Input>, services: OperationServices, asking: Asking) => Promise<Answer>,
): Handler<Answer> {
  return {
    operation,
    answer: (services, given, asking) => answer(checked(operation, given), services, asking),
  };
}

/** What a command is carried out in. */
export interface CommandContext {
  /** The transaction in which it is written down too. */
  readonly tx: Queryable;
  readonly services: OperationServices;
  readonly now: number;
  /** Who asked for it; empty where nobody knows. */
  readonly who: string;
}

/** How a command is carried out, and what it answers. */
type AnsweringCommand<Input, Answer extends object | null> = Command<Input> &
  (
    | {
        readonly carryOut: (input: Input, context: CommandContext) => Promise<Answer>;
        readonly answerAfter?: undefined;
      }
    | {
        readonly carryOut: (input: Input, context: CommandContext) => Promise<unknown>;
        /** Reads the answer after the commit, where it is more than what was changed. */
        readonly answerAfter: (services: OperationServices) => Promise<Answer>;
      }
  );

/** What a command says of itself. */
interface Command<Input> {
  /** What it changes: the name of a source, the title of a window. */
  readonly subject: (input: Input) => string;
  /** What is written down of what was asked for; absent: all of it. Secrets and long texts are to be left out. */
  readonly record?: (input: Input) => unknown;
}

/**
 * A change: it is carried out in one transaction with its line in the audit, and all engines see it within a second. What it looks
 * at stays as it is until it has committed, whatever refers to what by its name: changes are made one after the other.
 */
export function command<Input extends ObjectSchema<AnyObject>, Answer extends object | null>(
  operation: Operation<Input>,
  declared: AnsweringCommand<InferType<Input>, Answer>,
): Handler<Answer> {
  return {
    operation,
    answer: async (services, given, asking) => {
      const input = checked(operation, given);
      const inTransaction = async <Carried>(
        carryOut: (input: InferType<Input>, context: CommandContext) => Promise<Carried>,
      ): Promise<Carried> =>
        await inTurn(() =>
          services.database.db.transaction(async (tx) => {
            await writeDown(tx, operation, declared, input, asking.who);
            return await carryOut(input, { tx, services, now: Date.now(), who: asking.who });
          }),
        );
      if (declared.answerAfter) {
        await inTransaction(declared.carryOut);
        await services.changes.refresh();
        return await declared.answerAfter(services);
      }
      const answer = await inTransaction(declared.carryOut);
      await services.changes.refresh();
      return answer;
    },
  };
}

/** How a change that takes longer than a transaction is carried out. */
interface LongCommand<Input, Answer extends object | null> extends Command<Input> {
  /**
   * `record` writes it down; it is called first of all in the transaction that does what cannot be undone, or by the runner at
   * last.
   */
  readonly carryOut: (
    input: Input,
    services: OperationServices,
    asking: Asking,
    record: (tx: Queryable) => Promise<void>,
  ) => Promise<Answer>;
}

/** A change that is made of several transactions, or happens outside of the store too. */
export function longCommand<Input extends ObjectSchema<AnyObject>, Answer extends object | null>(
  operation: Operation<Input>,
  { carryOut, ...of }: LongCommand<InferType<Input>, Answer>,
): Handler<Answer> {
  return {
    operation,
    answer: async (services, given, asking) => {
      const input = checked(operation, given);
      let isWritten = false;
      const record = async (tx: Queryable): Promise<void> => {
        await writeDown(tx, operation, of, input, asking.who);
        isWritten = true;
      };
      const answer = await carryOut(input, services, asking, record);
      if (!isWritten) await inTurn(() => services.database.db.transaction(record));
      await services.changes.refresh();
      return answer;
    },
  };
}

function checked<Input extends ObjectSchema<AnyObject>>(operation: Operation<Input>, given: unknown): InferType<Input> {
  return operation.input.validateSync(object().validateSync(given ?? {}), { abortEarly: false });
}

async function writeDown<Input>(
  tx: Queryable,
  { method, path }: Pick<Operation, 'method' | 'path'>,
  { subject, record }: Omit<Command<Input>, 'carryOut' | 'answerAfter'>,
  input: Input,
  who: string,
): Promise<void> {
  // Before anything else: whoever counts waits until all who counted before have committed.
  await countChange(tx);
  await addToAudit(tx, {
    at: Date.now(),
    who,
    command: `${method} ${path}`,
    subject: subject(input),
    input: record ? record(input) : input,
  });
}
