/** A place in a followed file that was reached, and what is before it: `length` bytes with the hash. */
export type FileMark = readonly [offset: number, length: number, hash: string];

/** How far a followed file has been read. */
export interface FileProgress {
  readonly source: string;
  /** Made when the file was first met; it stays when the file is moved, packed or copied away. */
  readonly file: string;
  /** Device and inode of the file, or of the packed file that holds it now. */
  readonly place: string;
  readonly path: string;
  /** In bytes. */
  readonly offset: number;
  /** Length and hash of how it begins, as it was read. */
  readonly headLength: number;
  readonly headHash: string;
  /** The last places that were reached, the latest last. */
  readonly marks: readonly FileMark[];
  /** What was out of the ordinary about the file, in a sentence; empty for nothing. */
  readonly note: string;
  readonly changedAt: number;
}

/** How far an object has been picked up. */
export interface ObjectProgress {
  readonly source: string;
  /** SHA-256 of name and version, hexadecimal. */
  readonly identity: string;
  readonly name: string;
  /** Records of it that are stored. */
  readonly records: number;
  readonly done: boolean;
  /** Why it could not be read; empty for nothing. */
  readonly problem: string;
  /** How often it could not be read since it last could. */
  readonly attempts: number;
  /** When it is tried again (milliseconds); null when it is done or need not wait. */
  readonly retryAt: number | null;
  readonly at: number;
}

/** By which lease a reader reads; only its holder may note how far it came. */
export interface ReaderLease {
  readonly name: string;
  /** Grows with each holder. */
  readonly token: number;
}

/** How far a delivery takes its reader: in a followed file, or among picked-up objects. */
export type ReadProgress = { readonly lease?: ReaderLease } & (
  | ({ readonly kind: 'file' } & FileProgress)
  | ({ readonly kind: 'object' } & ObjectProgress)
);
