import { inheritedKeyIn } from '#core/input/inherited-keys.ts';
import { problem } from './problem.ts';

/** Runs a handler; whatever goes wrong becomes an answer that says so, and tells nothing of what is stored. */
export async function atEdge(title: string, handle: () => Promise<Response>): Promise<Response> {
  try {
    return await handle();
  } catch (error) {
    if (error instanceof SyntaxError) return problem(400, title, error.message);
    // What a fault of ours says may hold what is stored: it goes nowhere but its kind.
    console.error(`${title}: ${error instanceof Error ? error.name : 'a fault'}`);
    return problem(500, title, 'The application failed at this. Nothing more is known; try again.');
  }
}

/** Longest body of a request, in bytes, and how deep its JSON may be nested. */
const longestBody = 9_000_000;
const deepest = 60;

/** The JSON of a request's body; an empty one says nothing. Throws a `SyntaxError` that says what is wrong with it. */
export async function jsonOf(request: Request): Promise<unknown> {
  const text = await textOf(request);
  checkDepth(text);
  try {
    return text === '' ? {} : JSON.parse(text);
  } catch {
    throw new SyntaxError('The body is no JSON.');
  }
}

/** The text of a request's body; one that is too long is not read to its end. */
export async function textOf(request: Request): Promise<string> {
  const reader = request.body?.getReader();
  if (!reader) return '';
  const decoder = new TextDecoder();
  let text = '';
  let size = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return text + decoder.decode();
    size += value.length;
    if (size > longestBody) {
      await reader.cancel();
      throw new SyntaxError(`The body is longer than ${longestBody / 1e6} MB.`);
    }
    text += decoder.decode(value, { stream: true });
  }
}

/** Nesting that no request needs would be more than those can bear who look through it. */
function checkDepth(text: string): void {
  let depth = 0;
  let inText = false;
  for (let at = 0; at < text.length; at++) {
    const character = text.charCodeAt(at);
    if (inText) {
      if (character === 92) at++;
      else if (character === 34) inText = false;
    } else if (character === 34) inText = true;
    else if (character === 91 || character === 123) {
      if (++depth > deepest) throw new SyntaxError(`The body is nested deeper than ${deepest} levels.`);
    } else if (character === 93 || character === 125) depth--;
  }
}

/** Throws a `SyntaxError` about an input with a key that every object inherits, such as `toString`. */
export function checkKeys(input: object): void {
  const path = inheritedKeyIn(input);
  if (path !== undefined) throw new SyntaxError(`Nothing may be called ${path.slice(-100)} here.`);
}
