import { customType } from 'drizzle-orm/pg-core';

export const bytes = customType<{ data: Uint8Array }>({ dataType: () => 'bytea' });
