const boundary = '\n\n';

/**
 * Several streams of server-sent events as one: each event stays whole, and they come as they are ready and as fast as they
 * are taken; nothing is read ahead. It ends when all of them have ended; whoever reads it no more ends them.
 */
export function mergeEvents(streams: readonly ReadableStream<Uint8Array>[]): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  const readers = streams.map((stream) => stream.getReader());
  const waiting = new Map<AsyncGenerator<string>, Promise<Next>>();
  for (const reader of readers) ask(wholeEvents(reader), waiting);
  return new ReadableStream<Uint8Array>({
    pull: async (controller) => {
      while (waiting.size > 0) {
        const { events, text } = await Promise.race(waiting.values());
        waiting.delete(events);
        if (text === undefined) continue;
        ask(events, waiting);
        controller.enqueue(encoder.encode(text));
        return;
      }
      controller.close();
    },
    cancel: async () => {
      await Promise.allSettled(readers.map((reader) => reader.cancel()));
    },
  });
}

/** What one of the streams gives next; no text once it has ended. */
interface Next {
  readonly events: AsyncGenerator<string>;
  readonly text: string | undefined;
}

function ask(events: AsyncGenerator<string>, waiting: Map<AsyncGenerator<string>, Promise<Next>>): void {
  // An engine that ended takes its events with it; the others go on.
  const next = events.next().then(
    ({ value }) => ({ events, text: value }),
    () => ({ events, text: undefined }),
  );
  waiting.set(events, next);
}

async function* wholeEvents(reader: ReadableStreamDefaultReader<Uint8Array>): AsyncGenerator<string, undefined> {
  const decoder = new TextDecoder();
  let rest = '';
  for (let read = await reader.read(); !read.done; read = await reader.read()) {
    rest += decoder.decode(read.value, { stream: true });
    const end = rest.lastIndexOf(boundary) + boundary.length;
    if (end < boundary.length) continue;
    yield rest.slice(0, end);
    rest = rest.slice(end);
  }
  return undefined;
}
