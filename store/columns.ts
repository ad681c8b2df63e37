import { bigint, customType } from 'drizzle-orm/mysql-core';

/** Bytes of any length. */
export const longBlob = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'longblob',
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  fromDriver: (value) => value,
});

/** A text of any length. */
export const longText = customType<{ data: string; driverData: string }>({ dataType: () => 'longtext' });

/** A value kept as JSON text; MariaDB hands its own JSON type out as text anyway. */
export const jsonText = <T>(name: string) =>
  customType<{ data: T; driverData: string }>({
    dataType: () => 'longtext',
    toDriver: (value) => JSON.stringify(value),
    // What was written through this column has its type.
    fromDriver: (value): T => JSON.parse(value),
  })(name);

/** A time or a duration in milliseconds. */
export const milliseconds = (name: string) => bigint(name, { mode: 'number' });
