import type { AnswerOf } from '@gaveta/core/contract';
import type { Theme } from '@gaveta/core/internal';
import type { Equipment } from '@gaveta/output';
import { type Session, signToken } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import type { ErrorBook } from '../base/error-book.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { Finding } from '../catalogue/doctor.ts';
import type { Store } from '../store/store.ts';
import type { Calls } from './call.ts';

/** What the host’s developer is told about how Gaveta is set up. */
export interface EmbeddingParts {
  store: Store;
  catalogue: Catalogue;
  equipment: Equipment;
  themes: readonly Theme[];
  errors: ErrorBook;
  /** Of Gaveta’s packages. */
  version: string;
  hosts: readonly string[];
  path: string | null;
  /** Names of the hooks that there are. */
  hooks: readonly string[];
  hasAuthorize: boolean;
  hasKey: boolean;
  secret: string;
  doctor: () => Promise<Finding[]>;
}

type Embedding = AnswerOf<'GET /embedding'>;

export type EmbeddingCall = 'GET /embedding' | 'POST /embedding/check' | 'POST /embedding/token';

export const embeddingService = (parts: EmbeddingParts): Calls<EmbeddingCall> => ({
  'GET /embedding': async (): Promise<Embedding> => {
    const { equipment, catalogue, hosts, errors, hooks, path, version } = parts;
    const models = catalogue.visible('en').map(({ name, label, entities, origin }) => ({
      name,
      label,
      entities: entities.length,
      connection: origin.connection,
    }));
    const reports = (await parts.store.list()).length;
    const lacks = { models: models.length === 0, reports: reports === 0, hosts: hosts.length === 0 };
    const missing = { ...lacks, authorize: !parts.hasAuthorize, encryptionKey: !parts.hasKey };
    const families = new Map<string, number>();
    for (const { family } of equipment.fonts) families.set(family, (families.get(family) ?? 0) + 1);
    return {
      version,
      models,
      connections: catalogue.listed(),
      functions: Object.keys(equipment.functions),
      fonts: [...families].map(([family, faces]) => ({ family, faces })),
      themes: parts.themes.map(({ name }) => name),
      outputs: equipment.outputs.map(({ name, label }) => ({ name, label })),
      hooks: [...hooks],
      hosts: [...hosts],
      path,
      reports,
      missing: (Object.keys(missing) as (keyof typeof missing)[]).filter((name) => missing[name]),
      errors: errors.all().map(({ at, ...error }) => ({ at: at.toISOString(), ...error })),
    };
  },
  'POST /embedding/check': () => parts.doctor(),
  'POST /embedding/token': async ({ caller, body: { rights } }) => {
    const { session } = caller;
    const more = rights.find((right) => !caller.may(right));
    if (more) throw new ApiError('not-allowed', { right: more });
    const asked: Session = { ...session, rights };
    return { token: await signToken(parts.secret, asked) };
  },
});
