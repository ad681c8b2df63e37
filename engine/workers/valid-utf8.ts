import { isUtf8 } from 'node:buffer';

/** Bytes that are UTF-8, and whether anything was put in the place of others for that. */
export interface ValidBytes {
  readonly bytes: Uint8Array;
  readonly replaced: boolean;
}

/** The bytes as they are where they are UTF-8, otherwise a copy in which every wrong byte is U+FFFD. */
export function validUtf8(bytes: Uint8Array): ValidBytes {
  if (isUtf8(bytes)) return { bytes, replaced: false };
  const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
  return { bytes: new TextEncoder().encode(text), replaced: true };
}
