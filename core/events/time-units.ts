/** Units of time, in milliseconds. */
export const second = 1_000;
export const minute = 60 * second;
export const hour = 60 * minute;
export const day = 24 * hour;
export const week = 7 * day;
