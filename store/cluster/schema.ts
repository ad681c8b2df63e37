import { bigint, mysqlTable, varchar } from 'drizzle-orm/mysql-core';

/** What belongs to the installation as a whole, by name. */
export const installation = mysqlTable('installation', {
  name: varchar('name', { length: 64 }).primaryKey(),
  value: varchar('value', { length: 200 }).notNull(),
});

/** Who may do what only one engine may do at a time. Times are of the database's clock. */
export const leases = mysqlTable('lease', {
  name: varchar('name', { length: 100 }).primaryKey(),
  /** The engine that has it; empty for none. */
  holder: varchar('holder', { length: 48 }).notNull(),
  /** Grows with each holder, so that one that was asleep cannot write late. */
  token: bigint('token', { mode: 'number' }).notNull(),
  /** Grows with each sign of life of its holder. */
  beat: bigint('beat', { mode: 'number' }).notNull().default(0),
});

/** Numbers that grow: `changes` with every command, by which the other engines see that something changed. */
export const counters = mysqlTable('counter', {
  name: varchar('name', { length: 32 }).primaryKey(),
  value: bigint('value', { mode: 'number' }).notNull(),
});
