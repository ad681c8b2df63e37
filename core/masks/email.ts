import { type Detector, isDigit, isLetter, isWordByte } from './detector.ts';

/** Longest part before the @ and behind it (RFC 5321, 4.5.3.1). */
const longestLocal = 64;
const longestDomain = 255;

function isLocal(byte: number | undefined): boolean {
  // Of the characters that RFC 5322 allows, those that addresses are really made of.
  return isWordByte(byte) || byte === 46 || byte === 43 || byte === 45 || byte === 37;
}

function isDomain(byte: number | undefined): boolean {
  return isLetter(byte) || isDigit(byte) || byte === 45 || byte === 46;
}

/** Mail addresses: a local part, @, and a domain with a dot in it. */
export const email: Detector = {
  id: 'email',
  title: 'Mail addresses',
  help: 'Takes a name, an @ and a domain that has a dot.',
  find: (bytes, start, end, visit) => {
    let free = start;
    for (let at = bytes.indexOf(64, start); at >= 0 && at < end; at = bytes.indexOf(64, at + 1)) {
      let first = at;
      while (first > free && at - first < longestLocal && isLocal(bytes[first - 1])) first--;
      let last = at + 1;
      let dot = -1;
      while (last < end && last - at <= longestDomain && isDomain(bytes[last])) {
        if (bytes[last] === 46 && last > at + 1) dot = last;
        last++;
      }
      while (last > at + 1 && (bytes[last - 1] === 46 || bytes[last - 1] === 45)) last--;
      if (first === at || dot < 0 || dot >= last - 1) continue;
      visit(first, last);
      free = last;
    }
  },
};
