import { ValidationError } from 'yup';
import { problem } from './engine.ts';

/** Runs a handler; what the caller got wrong becomes an answer that says so. */
export async function atEdge(title: string, handle: () => Promise<Response>): Promise<Response> {
  try {
    return await handle();
  } catch (error) {
    if (error instanceof ValidationError) return problem(400, title, error.errors.join('; '));
    if (error instanceof SyntaxError) return problem(400, title, error.message);
    throw error;
  }
}
