import { randomUUID } from 'node:crypto';
import type { CurrencyDecimals, Model } from '@gaveta/core/internal';
import { visibleModel } from '@gaveta/core/internal';
import type { Connection } from '../connection/connection.ts';
import type { RegisteredModel } from '../model/define.ts';
import { sourceRoom } from '../sources/kinds/kinds.ts';
import { openSource, type SourceContext } from '../sources/stored.ts';
import type { DataStore, StoredConnection } from '../store/data-store.ts';

/** Where the rows of a model come from, as the interface shows it. */
export interface ModelOrigin {
  connection: string;
  /** In a database people can write statements by hand. */
  kind: 'database' | 'rows' | 'missing';
  /** Registered in code, or made by hand. */
  made: 'code' | 'hand';
}

/** Who runs a report, to a database that asks for that. */
export type Credentials = Readonly<Record<string, { user: string; password: string }>>;

/** The models and connections there are: those of the host's code, and those made by hand, which come and go. */
export class Catalogue {
  readonly models = new Map<string, RegisteredModel>();
  readonly connections = new Map<string, Connection>();
  private readonly stored = new Map<string, StoredConnection>();
  /** Changes when the models do. */
  modelsKey: string = randomUUID();

  constructor(
    models: readonly RegisteredModel[],
    connections: Readonly<Record<string, Connection>>,
    private readonly data: DataStore,
    readonly sources: SourceContext,
    /** Told of claims that do not fit the rows that they are to cut: those who carry them see nothing. */
    private readonly unfitClaim: (entity: string, claim: string, wanted: string) => void = () => {},
    private readonly currencies?: CurrencyDecimals,
  ) {
    for (const model of models) this.register({ ...model, unfitClaim: this.unfitClaim });
    for (const [name, connection] of Object.entries(connections)) this.connections.set(name, connection);
  }

  private register(registered: RegisteredModel): void {
    const { currencies } = this;
    const known = (model: Model): Model => (currencies ? { ...model, currencies: { ...currencies } } : model);
    this.models.set(registered.model.name, {
      ...registered,
      model: known(registered.model),
      inLanguage: (language) => known(registered.inLanguage(language)),
    });
  }

  /** Whether a name belongs to the host's code. */
  isFixed(name: string): boolean {
    return !this.stored.has(name) && (this.models.has(name) || this.connections.has(name));
  }

  async load(): Promise<void> {
    for (const stored of await this.data.connections()) this.add(stored);
  }

  add(stored: StoredConnection): void {
    const { name } = stored.source;
    if (this.isFixed(name)) return;
    void this.close(name);
    this.stored.set(name, stored);
    const { connection, model } = openSource(stored.source, stored.found, this.sources);
    this.register(model);
    this.connections.set(name, connection);
    this.modelsKey = randomUUID();
  }

  async remove(name: string): Promise<void> {
    await this.close(name);
    this.stored.delete(name);
    this.models.delete(name);
    this.connections.delete(name);
    this.modelsKey = randomUUID();
  }

  private async close(name: string): Promise<void> {
    const connection = this.connections.get(name);
    if (connection?.kind === 'database' && this.stored.has(name)) await connection.close?.();
  }

  get made(): StoredConnection[] {
    return [...this.stored.values()];
  }

  /** Whether there are rows that come from no database, and so are brought together on the workbench. */
  get hasRowsOfFiles(): boolean {
    return [...this.connections.values()].some(({ kind }) => kind === 'rows');
  }

  /** Connections that want user and password of whoever runs a report. */
  get asking(): string[] {
    return this.made.flatMap(({ source: { name, settings } }) => (sourceRoom(settings).asks(settings) ? [name] : []));
  }

  /** The connections as one caller uses them: those that ask for it under their own name. */
  connectionsFor(credentials: Credentials): {
    connections: ReadonlyMap<string, Connection>;
    close: () => Promise<void>;
  } {
    const own: Connection[] = [];
    const connections = new Map(this.connections);
    for (const name of this.asking) {
      const given = credentials[name];
      const { settings } = this.stored.get(name)!.source;
      const { openFor } = sourceRoom(settings);
      if (!given || !openFor) continue;
      const connection = openFor(settings, given, this.sources);
      own.push(connection);
      connections.set(name, connection);
    }
    return {
      connections,
      close: async () => {
        for (const connection of own) if (connection.kind === 'database') await connection.close?.();
      },
    };
  }

  /** Every model, with all that reports may use and people may not see. */
  get plain(): Model[] {
    return [...this.models.values()].map(({ model }) => model);
  }

  /** Every connection by name. */
  listed(): { name: string; kind: Connection['kind']; made: ModelOrigin['made'] }[] {
    return [...this.connections].map(([name, { kind }]) => ({
      name,
      kind,
      made: this.stored.has(name) ? 'hand' : 'code',
    }));
  }

  /** Every model as it may be shown, in a language, with where its rows come from. */
  visible(language: string): (Model & { origin: ModelOrigin })[] {
    return [...this.models.values()].map((registered) => {
      const connection = this.connections.get(registered.connection);
      const made = this.stored.has(registered.connection) ? ('hand' as const) : ('code' as const);
      const origin = { connection: registered.connection, kind: connection?.kind ?? ('missing' as const), made };
      return { ...visibleModel(registered.inLanguage(language)), origin };
    });
  }

  /** Closes the connections made by hand; those of the host's code are the host's to close. */
  async end(): Promise<void> {
    for (const name of this.stored.keys()) await this.close(name);
    await this.sources.threads.close();
  }
}
