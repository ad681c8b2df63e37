/** The tables of all rooms. */
export * from './cluster/schema.ts';
export * from './events/schema.ts';
export * from './metrics/schema.ts';
export * from './people/schema.ts';
export * from './plan/schema.ts';
export * from './sources/schema.ts';
export * from './volume/schema.ts';
