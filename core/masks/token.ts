import { encode } from '../events/text-table.ts';
import { type Detector, isWordByte } from './detector.ts';

/** A secret is at least this long; shorter values behind the same words are flags and names. */
const shortest = 12;

/** Words behind which a secret stands, each with what may part them; lower case. */
const leads = ['bearer ', 'token=', 'token: ', 'token":"', 'api_key=', 'apikey=', 'secret=', 'password=', 'access_token=', 'access_token":"', 'password":"', 'secret":"', 'api_key":"'].map(encode); // biome-ignore format: one row of words

const jwt = encode('eyJ');

function isTokenByte(byte: number | undefined): boolean {
  return isWordByte(byte) || byte === 45 || byte === 46 || byte === 126 || byte === 43 || byte === 47 || byte === 61;
}

function endsQuoted(bytes: Uint8Array, at: number): boolean {
  return bytes[at] === 34 && bytes[at - 1] !== 92;
}

function beginsAt(bytes: Uint8Array, at: number, end: number, word: Uint8Array, fold: boolean): boolean {
  if (at + word.length > end) return false;
  for (let i = 0; i < word.length; i++) {
    const byte = bytes[at + i] as number;
    const folded = fold && byte >= 65 && byte <= 90 ? byte + 32 : byte;
    if (folded !== word[i]) return false;
  }
  return true;
}

/** Where a secret that is announced or shows itself at `at` begins; −1 when none does. */
function secretStart(bytes: Uint8Array, at: number, end: number): number {
  const byte = (bytes[at] as number) | 32;
  // First letters of the leads and of eyJ: anything else is passed without a closer look.
  if (byte !== 98 && byte !== 116 && byte !== 97 && byte !== 115 && byte !== 112 && byte !== 101) return -1;
  if (beginsAt(bytes, at, end, jwt, false)) return at;
  for (const lead of leads) if (beginsAt(bytes, at, end, lead, true)) return at + lead.length;
  return -1;
}

/** Bearer tokens, signed tokens (RFC 7519), and what is behind words such as `password=`. */
export const token: Detector = {
  id: 'token',
  title: 'Tokens and passwords',
  help: 'Takes what follows “Bearer”, “token=”, “password=” and the like, and signed tokens (eyJ…), from 12 characters on.',
  names: new Set(['token', 'access_token', 'refresh_token', 'id_token', 'api_key', 'apikey', 'secret', 'client_secret', 'password', 'passwd', 'authorization']), // biome-ignore format: one row of words
  find: (bytes, start, end, visit) => {
    let at = start;
    while (at < end) {
      const wordStart = at === start || !isWordByte(bytes[at - 1]) || bytes[at - 1] === 95;
      const first = wordStart ? secretStart(bytes, at, end) : -1;
      if (first < 0) {
        at++;
        continue;
      }
      // In quotes a secret ends where they do: an escape within it is part of it.
      const quoted = bytes[first - 1] === 34;
      let last = first;
      while (last < end && (quoted ? !endsQuoted(bytes, last) : isTokenByte(bytes[last]))) last++;
      if (last - first >= shortest) visit(first, last);
      at = Math.max(last, at + 1);
    }
  },
};
