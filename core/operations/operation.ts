import type { AnyObject, InferType, ObjectSchema } from 'yup';

/** What someone must be allowed to: look at things, switch postures and exclusions for a while, run sources and what belongs to them, work on the draft, put it in force. */
export type Permission = 'see' | 'switch' | 'operate' | 'design' | 'publish';

/**
 * Something that can be asked or done over the API. Its input is one object: what is in the path (`{name}`), and the
 * query of a GET or the JSON body of any other request.
 */
export interface Operation<Input extends ObjectSchema<AnyObject> = ObjectSchema<AnyObject>> {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  readonly summary: string;
  /** What is said when it is not done: the title of the answer. */
  readonly failure: string;
  readonly permission: Permission;
  readonly input: Input;
  /** Type of a body that is no JSON; it is passed on as it comes. */
  readonly takes?: string;
  /** Types of an answer that is no JSON: one of them. */
  readonly gives?: readonly string[];
  /** Status of a good answer; absent: 200. */
  readonly status?: number;
}

/** The input of an operation as it is after its shape was checked. */
export type InputOf<Asked> = Asked extends Operation<infer Input> ? InferType<Input> : never;

/** Declares an operation. */
export function operation<Input extends ObjectSchema<AnyObject>>(declared: Operation<Input>): Operation<Input> {
  return declared;
}

/** Whether what is asked is in the query: where there is no body, or one that is passed on as it comes. */
export function isAskedInQuery({ method, takes }: Pick<Operation, 'method' | 'takes'>): boolean {
  return method === 'GET' || takes !== undefined;
}

/** The names of the parts in an operation's path. */
export function pathParts({ path }: Pick<Operation, 'path'>): readonly string[] {
  return [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name as string);
}
