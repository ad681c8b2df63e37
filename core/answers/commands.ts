/** What commands answer that say more than that they were carried out. */

/** A source, or a token for switching, that was made: its token is answered once and cannot be read again. */
export interface TokenAnswer {
  readonly token: string;
}

/** `POST /api/sources` */
export interface MadeSourceAnswer extends TokenAnswer {
  readonly name: string;
}

/** `PUT /api/tables` */
export interface SavedTableAnswer {
  readonly columns: readonly string[];
  readonly rows: number;
}

/** `POST /api/sources/{name}/upload` */
export interface UploadAnswer {
  readonly accepted: number;
  readonly rejected: number;
  /** Whether the same file had been uploaded before: nothing of it was stored again. */
  readonly isKnown?: true;
}

/** `POST /api/sources/{name}/scrub` */
export interface ScrubAnswer {
  /** Taped records that were masked. */
  readonly changed: number;
}

/** `POST /api/sources/{name}/rewind` */
export interface RewindAnswer {
  /** Stored events that were removed, to be read again. */
  readonly removed: number;
}

/** `POST /api/rejects/retry` */
export interface RetryAnswer {
  readonly retried: number;
}
