import { createReadStream } from 'node:fs';
import { realpath } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import { createGunzip } from 'node:zlib';
import { isGzip } from '../../deliveries/gzip.ts';
import type { SourceBounds } from '../../sources/source-bounds.ts';
import type { ListedObject } from './listed-object.ts';

/** Largest object, unpacked. */
export const maxObjectBytes = 2_000_000_000;

/** How long a server may say nothing, in milliseconds. */
const patience = 30_000;

/** Why an object cannot be read. `isFinal`: trying again changes nothing. */
export class ObjectFault extends Error {
  override readonly name = 'ObjectFault';

  constructor(
    message: string,
    readonly isFinal: boolean,
  ) {
    super(message);
  }
}

/** The content of an object, unpacked, piece by piece as it comes. Throws {@link ObjectFault} where it does not come whole. */
export async function* objectContent(
  url: string,
  listed: ListedObject,
  bounds: SourceBounds,
): AsyncGenerator<Uint8Array> {
  const address = new URL(url);
  await bounds.checkAddress(address);
  const pieces =
    address.protocol === 'file:'
      ? await fileContent(join(fileURLToPath(address), listed.name), bounds)
      : await askFor(objectAddress(url, listed.name), listed.size);
  let size = 0;
  for await (const piece of unpacked(pieces)) {
    size += piece.length;
    if (size > maxObjectBytes) throw new ObjectFault(`it is longer than ${maxObjectBytes / 1e9} GB`, true);
    yield piece;
  }
}

function objectAddress(url: string, name: string): URL {
  return new URL(`${url.replace(/\/?$/, '/')}${name.split('/').map(encodeURIComponent).join('/')}`);
}

async function fileContent(path: string, bounds: SourceBounds): Promise<AsyncIterable<Uint8Array>> {
  const real = await realpath(path);
  if (!bounds.allowsFile(real)) throw new ObjectFault('it lies in a folder that the installation does not allow', true);
  return createReadStream(real);
}

/**
 * Asks a server for something and gives what comes, as it comes. Redirections are not followed: they could lead anywhere.
 * `size` is how long it should be where the server does not say (0: not known).
 */
export async function askFor(address: URL, size = 0): Promise<AsyncIterable<Uint8Array>> {
  const abort = new AbortController();
  const give = (): void => abort.abort(new ObjectFault(`nothing came for ${patience / 1000} s`, false));
  let timer = setTimeout(give, patience);
  const answer = await fetch(address, { signal: abort.signal, redirect: 'manual' }).catch((error: unknown) => {
    clearTimeout(timer);
    throw connectionFault(error);
  });
  if (!answer.ok || !answer.body) {
    clearTimeout(timer);
    await answer.body?.cancel().catch(() => {});
    const redirected = answer.status >= 300 && answer.status < 400;
    throw new ObjectFault(
      redirected
        ? 'the server sends on to another address, which is not followed'
        : `the server answered ${answer.status}`,
      false,
    );
  }
  const { body, headers } = answer;
  const isEncoded = headers.has('content-encoding');
  const expected = Number(headers.get('content-length') ?? size);
  return (async function* () {
    let received = 0;
    try {
      for await (const piece of piecesOf(body)) {
        clearTimeout(timer);
        received += piece.length;
        yield piece;
        timer = setTimeout(give, patience);
      }
    } catch (error) {
      throw connectionFault(error);
    } finally {
      clearTimeout(timer);
    }
    if (!isEncoded && expected > 0 && received < expected)
      throw new ObjectFault(`${received} of ${expected} bytes came`, false);
  })();
}

/** The pieces of a body; whoever stops before the end lets go of the connection. */
async function* piecesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const reader = body.getReader();
  try {
    for (let next = await reader.read(); !next.done; next = await reader.read()) yield next.value;
  } finally {
    await reader.cancel().catch(() => {});
  }
}

function connectionFault(error: unknown): ObjectFault {
  if (error instanceof ObjectFault) return error;
  const cause = error instanceof Error && error.cause instanceof Error ? error.cause : error;
  if (cause instanceof ObjectFault) return cause;
  return new ObjectFault(`the connection failed: ${cause instanceof Error ? cause.message : String(cause)}`, false);
}

/** Pieces as they are, or unpacked where they are a gzip. */
async function* unpacked(pieces: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const iterator = pieces[Symbol.asyncIterator]();
  let head: Uint8Array = new Uint8Array(0);
  let ended = false;
  while (head.length < 2 && !ended) {
    const next = await iterator.next();
    if (next.done) ended = true;
    else head = Buffer.concat([head, next.value]);
  }
  const all = async function* (): AsyncGenerator<Uint8Array> {
    yield head;
    if (!ended) yield* { [Symbol.asyncIterator]: () => iterator };
  };
  if (!isGzip(head)) {
    yield* all();
    return;
  }
  const gunzip = createGunzip({ chunkSize: 262_144 });
  // What goes wrong is met where the pieces are taken.
  pipeline(Readable.from(all(), { objectMode: false }), gunzip).catch(() => {});
  try {
    for await (const piece of gunzip) yield piece;
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : '';
    throw code.startsWith('Z_') ? new ObjectFault(`it cannot be unpacked (${code})`, true) : error;
  }
}
