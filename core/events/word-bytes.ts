/** Each byte as it is compared: ASCII letters in lower case. */
export const lowerByte = Uint8Array.from({ length: 256 }, (_, byte) => (byte >= 65 && byte <= 90 ? byte + 32 : byte));

/** 1 for bytes that belong to a word: letters, digits, underscore, and everything beyond ASCII. */
export const isWordByte = Uint8Array.from({ length: 256 }, (_, byte) =>
  (byte >= 48 && byte <= 57) || (byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122) || byte === 95 || byte > 127
    ? 1
    : 0,
);
