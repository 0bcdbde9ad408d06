import { customType } from 'drizzle-orm/pg-core';

/** Bytes as they came: a file that is kept. */
export const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
