import type { Format } from './format.ts';

/** Any line: it becomes the body as it is. Fields come from the pipelines. */
export const text: Format = {
  id: 'text',
  title: 'Plain text',
  fits: () => true,
  reader: () => (bytes, start, end, builder, context) => {
    builder.setBody(bytes, start, end);
    builder.commit(context.received, end - start, false);
    return undefined;
  },
};
