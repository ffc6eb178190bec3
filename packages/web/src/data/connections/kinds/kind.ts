import type { LucideIcon } from 'lucide-react';
import type { FC } from 'react';
import type { z } from 'zod';
import type { ConnectionKind, ConnectionValues, SettingsOf } from '../draft.ts';

export interface ConnectionFormProps {
  /** Addresses that the server may fetch from, by how they begin. */
  allowed: readonly string[];
  /** What the tables are called that were seen in it, as sheets are. */
  seen: readonly string[];
}

/** Everything that the screens need of one kind of connection. */
export interface ConnectionRoom<K extends ConnectionKind = ConnectionKind> {
  Picture: LucideIcon;
  /** Settings that a new one starts with. */
  begin: () => SettingsOf<K>;
  /** What its form must hold; messages are keys of words. */
  schema: z.ZodType<ConnectionValues<K>>;
  /** Its boxes; stands inside a form of `ConnectionValues`. */
  Form: FC<ConnectionFormProps>;
  /** Whether something of it is secret, which the server must be able to keep. */
  hasSecret: boolean;
  /** Whether what it holds is looked at while the form is filled in, or when somebody says so. */
  isSeenAtOnce: boolean;
  /** What a look shows: the first rows, or the names of its tables. */
  shows: 'rows' | 'tables';
}
