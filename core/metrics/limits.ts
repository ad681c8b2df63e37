import { day } from '../events/time-units.ts';

/** A name by the rules of OpenTelemetry for instruments. */
export const metricName = /^[a-zA-Z][a-zA-Z0-9_.\-/]*$/;

/** Most keys of a metric. */
export const mostKeys = 4;

/** Most series of a metric that says nothing else, and the most that it may say. */
export const usualLimit = 1_000;
export const highestLimit = 20_000;

/** How long a metric that says nothing else is kept: 15 months, in milliseconds. */
export const usualKeep = 456 * day;
