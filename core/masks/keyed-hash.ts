import { hmac } from '@noble/hashes/hmac.js';
import { sha256 } from '@noble/hashes/sha2.js';

/** The hash of `bytes[start..end)` that stands in the place of a value: 16 hexadecimal digits. */
export type HashText = (bytes: Uint8Array, start: number, end: number) => string;

/**
 * 64 bits of the HMAC-SHA-256 (RFC 2104) of a value: the same for the same value, and without the key nobody can try
 * values until one fits.
 */
export function keyedHash(key: Uint8Array): HashText {
  const keyed = hmac.create(sha256, key);
  return (bytes, start, end) => {
    const digest = keyed.clone().update(bytes.subarray(start, end)).digest();
    let text = '';
    for (let i = 0; i < 8; i++) text += (digest[i] as number).toString(16).padStart(2, '0');
    return text;
  };
}

/** For trying things out where the key of the installation is not at hand: in the browser and in the tests of pipelines. */
export const trialHash: HashText = keyedHash(new Uint8Array(0));
