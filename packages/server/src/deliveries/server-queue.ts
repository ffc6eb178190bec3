import type PgBoss from 'pg-boss';
import type { Work } from '../store/delivery-records.ts';
import type { Store } from '../store/store.ts';
import { AT_ONCE, keyOf, type WorkQueue } from './queue.ts';

const QUEUE = 'deliveries';
/** The schema of the queue, beside the store’s own tables. */
const SCHEMA = 'gaveta_jobs';
/** Seconds between two looks for work. */
const LOOK = 1;
/** Seconds after which a job that nobody ended is over. What it was about stands in the store. */
const OVER = 3600;

/** The queue of several processes, in the database of the store. */
export class ServerQueue implements WorkQueue {
  private boss: Promise<PgBoss> | null = null;

  constructor(
    private readonly ask: NonNullable<Store['askServer']>,
    private readonly log: (error: unknown) => void,
  ) {}

  async put(work: Work): Promise<void> {
    await (await this.open()).send(QUEUE, work, { singletonKey: keyOf(work), retryLimit: 0, expireInSeconds: OVER });
  }

  async start(todo: (work: Work) => Promise<void>): Promise<void> {
    const boss = await this.open();
    for (let i = 0; i < AT_ONCE; i++)
      await boss.work<Work>(QUEUE, { batchSize: 1, pollingIntervalSeconds: LOOK }, async (jobs) => {
        for (const { data } of jobs) await todo(data);
      });
  }

  async close(): Promise<void> {
    await (await this.boss)?.stop({ graceful: true, wait: true, timeout: 30_000 });
  }

  private open(): Promise<PgBoss> {
    this.boss ??= (async () => {
      const { default: Boss } = await import('pg-boss');
      const db = { executeSql: async (text: string, values: unknown[]) => this.ask(text, values) };
      const boss = new Boss({ db: db as unknown as PgBoss.Db, schema: SCHEMA });
      boss.on('error', (error) => this.log(error));
      await boss.start();
      // A job of one key waits once, whoever puts it.
      await boss.createQueue(QUEUE, { name: QUEUE, policy: 'short' });
      return boss;
    })();
    return this.boss;
  }
}
