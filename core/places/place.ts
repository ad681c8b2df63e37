/** Where an address is registered. */
export interface Place {
  /** ISO 3166-1 alpha-2. */
  readonly code: string;
  /** The country's English name. */
  readonly country: string;
  /** Middle of the country, in degrees. */
  readonly latitude: number;
  readonly longitude: number;
}

/** A place as fields hold it: `58.96,-3.29`, latitude first, in degrees. */
export function formatPlace(latitude: number, longitude: number): string {
  return `${round(latitude)},${round(longitude)}`;
}

function round(degrees: number): number {
  return Math.round(degrees * 1e5) / 1e5;
}

const shape = /^\s*([+-]?\d{1,3}(?:\.\d+)?)\s*[,; ]\s*([+-]?\d{1,3}(?:\.\d+)?)\s*$/;

/** Reads latitude and longitude in degrees; undefined when a text is no such pair or is off the globe. */
export function parsePlace(text: string): { readonly latitude: number; readonly longitude: number } | undefined {
  const parts = shape.exec(text);
  if (!parts) return undefined;
  const latitude = Number(parts[1]);
  const longitude = Number(parts[2]);
  return Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180 ? { latitude, longitude } : undefined;
}
