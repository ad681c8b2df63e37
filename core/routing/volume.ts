/** Events and bytes, as they arrived (weights counted), that are being summed up. */
export interface Volume {
  events: number;
  bytes: number;
}

/** Nothing yet. */
export function newVolume(): Volume {
  return { events: 0, bytes: 0 };
}

/** Adds to a volume. */
export function addVolume(into: Volume, { events, bytes }: Readonly<Volume>): void {
  into.events += events;
  into.bytes += bytes;
}
