import { decode, encode } from '../events/text-table.ts';

/** Rewrites one text of a JSON value; `name` is that of the member it is under, empty in a list. Undefined: it stays. */
export type RewriteText = (text: string, name: string) => string | undefined;

/** Longest JSON that is taken apart, in characters, and how deep. */
const longest = 262_144;
const deepest = 64;

/**
 * Rewrites the texts and numbers within a text that is JSON, as they read and not as they are written: an escape hides
 * nothing. Undefined where the text is no JSON object or list, or nothing changes.
 */
export function rewriteJson(
  bytes: Uint8Array,
  start: number,
  end: number,
  rewrite: RewriteText,
): Uint8Array | undefined {
  const first = bytes[start];
  if ((first !== 123 && first !== 91) || end - start > longest) return undefined;
  let value: unknown;
  try {
    value = JSON.parse(decode(bytes, start, end));
  } catch {
    return undefined;
  }
  let changed = false;
  const visit = (node: unknown, name: string, depth: number): unknown => {
    if (typeof node === 'string' || typeof node === 'number') {
      const rewritten = rewrite(String(node), name);
      if (rewritten === undefined) return node;
      changed = true;
      return rewritten;
    }
    if (typeof node !== 'object' || node === null || depth > deepest) return node;
    if (Array.isArray(node)) return node.map((item) => visit(item, name, depth + 1));
    return Object.fromEntries(Object.entries(node).map(([key, item]) => [key, visit(item, key, depth + 1)]));
  };
  const result = visit(value, '', 0);
  return changed ? encode(JSON.stringify(result)) : undefined;
}
