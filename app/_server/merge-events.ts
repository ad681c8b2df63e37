const boundary = '\n\n';

/**
 * Several streams of server-sent events as one: each event stays whole, and they come as they are ready. It ends when all of
 * them have ended; whoever reads it no more ends them.
 */
export function mergeEvents(streams: readonly ReadableStream<Uint8Array>[]): ReadableStream<Uint8Array> {
  const readers = streams.map((stream) => stream.getReader());
  const encoder = new TextEncoder();
  let open = readers.length;
  return new ReadableStream<Uint8Array>({
    start: (controller) => {
      const end = (): void => {
        if (--open === 0) controller.close();
      };
      for (const reader of readers) {
        const decoder = new TextDecoder();
        let rest = '';
        const go = async (): Promise<void> => {
          for (;;) {
            const { done, value } = await reader.read();
            if (done) return;
            rest += decoder.decode(value, { stream: true });
            const last = rest.lastIndexOf(boundary);
            if (last < 0) continue;
            controller.enqueue(encoder.encode(rest.slice(0, last + boundary.length)));
            rest = rest.slice(last + boundary.length);
          }
        };
        // An engine that ended takes its events with it; the others go on.
        go().then(end, end);
      }
    },
    cancel: async () => {
      await Promise.allSettled(readers.map((reader) => reader.cancel()));
    },
  });
}
