import {
  decodeRows,
  type Level,
  plansOf,
  type ReportPlan,
  type Row,
  type RowFeed,
  RowProblem,
  type RowSource,
  type WireRow,
} from '@gaveta/core/internal';
import type { Calls } from './calls.ts';
import type { KeepCalls, KeptRows } from './job.ts';

/** The levels of a plan and of the reports nested in it whose rows are fetched, by the place that names each. */
const fetchedLevels = (plan: ReportPlan): Map<Level, number> => {
  const levels = [...plansOf(plan)].flatMap((one) => one.levels);
  const fetched = [...new Set(levels)].filter(
    ({ sharedWith, isFetched, refused }) => !sharedWith && isFetched && !refused,
  );
  return new Map(fetched.map((level, place) => [level, place]));
};

interface Opened {
  source: (level: Level) => RowFeed;
  close(): Promise<void>;
}

/** Bytes of kept rows, as JSON, that a thread holds decoded. */
const MOST_HELD = 32 * 1024 * 1024;

/** The rows that were laid out last, decoded, by level: whoever opens and closes parts of a report does so several times. */
let held: { id: string; levels: (readonly Row[] | null)[] } | null = null;
let forgetting: NodeJS.Timeout | undefined;

/** Milliseconds that they are held for the next time. */
const HELD_FOR = 60_000;

/** Rows that were kept of a run before; decoded already when this thread had them last. */
export const keptBefore = async (
  plan: ReportPlan,
  host: Calls<KeepCalls>,
  { id, bytes }: KeptRows,
): Promise<{ source: RowSource; close: () => Promise<void> }> => {
  const kept = keptRows(plan, host);
  if (bytes > MOST_HELD) return kept;
  const places = fetchedLevels(plan);
  if (held?.id !== id) {
    held = null;
    const levels = await Promise.all([...places.keys()].map((level) => decoded(level, kept.source(level))));
    held = { id, levels };
  }
  clearTimeout(forgetting);
  forgetting = setTimeout(() => {
    held = null;
  }, HELD_FOR).unref();
  const { levels } = held;
  return { ...kept, source: (level) => levels[places.get(level) ?? -1] ?? kept.source(level) };
};

/** All rows of a feed; null when it breaks off, which is then told where it does. */
const decoded = async (level: Level, feed: RowFeed): Promise<readonly Row[] | null> => {
  const rows: Row[] = [];
  try {
    for await (const batch of feed) for (const row of decodeRows(level, batch)) rows.push(row);
    return rows;
  } catch (error) {
    if (!(error instanceof RowProblem)) throw error;
    return null;
  }
};

/** Rows that were kept. */
export const keptRows = (plan: ReportPlan, host: Calls<KeepCalls>): Opened => {
  const places = fetchedLevels(plan);
  return {
    async *source(level) {
      const place = places.get(level);
      if (place === undefined) return;
      for (let batch = 0; ; batch++) {
        const data = await host.kept(place, batch);
        if (!data) return;
        yield JSON.parse(Buffer.from(data).toString()) as WireRow[];
      }
    },
    close: async () => {},
  };
};

/** The same rows, kept where the run is while they are read. What the layout leaves is read when it is closed. */
export const keepingRows = <O extends Opened>(
  opened: O,
  plan: ReportPlan,
  host: Calls<KeepCalls>,
  signal: AbortSignal,
  /** Told in the end whether all of them were kept. */
  onKept: (isWhole: boolean) => void,
): O => {
  const feeds = new Map<Level, KeptFeed>();
  for (const [level, place] of fetchedLevels(plan))
    feeds.set(level, new KeptFeed(() => opened.source(level), place, host));
  return {
    ...opened,
    source: (level) => feeds.get(level)?.rows() ?? opened.source(level),
    close: async () => {
      try {
        for (const feed of feeds.values()) if (!signal.aborted) await feed.drain();
        if (!signal.aborted) onKept(await host.keptAll());
      } finally {
        await opened.close();
      }
    },
  };
};

/** The rows of one level on their way to the layout, and to where they are kept. */
class KeptFeed {
  private readonly iterator: () => AsyncIterator<WireRow[]>;
  private hasEnded = false;
  private keeps = true;
  private sent: Promise<unknown> = Promise.resolve();

  constructor(
    open: () => RowFeed,
    private readonly place: number,
    private readonly host: Calls<KeepCalls>,
  ) {
    let opened: AsyncIterator<WireRow[]> | null = null;
    this.iterator = () => {
      opened ??= open()[Symbol.asyncIterator]();
      return opened;
    };
  }

  /** Ends where the layout wants no more; what is left is for {@link drain}. */
  async *rows(): AsyncGenerator<WireRow[]> {
    for (;;) {
      const batch = await this.next();
      if (!batch) return;
      yield batch;
    }
  }

  private async next(): Promise<WireRow[] | null> {
    try {
      const { done, value } = await this.iterator().next();
      if (done) {
        this.hasEnded = true;
        await this.sent;
        return null;
      }
      if (this.keeps) await this.keep(value);
      return value;
    } catch (error) {
      this.hasEnded = true;
      if (error instanceof RowProblem) await this.host.broke(this.place, { code: error.code, data: error.data });
      throw error;
    }
  }

  /** One batch is on its way while the next is read. */
  private async keep(batch: WireRow[]): Promise<void> {
    await this.sent;
    this.sent = this.host.keep(this.place, Buffer.from(JSON.stringify(batch))).then((keeps) => {
      this.keeps = keeps;
    });
    // Heard when the next one is sent, or at the end.
    this.sent.catch(() => {});
  }

  async drain(): Promise<void> {
    try {
      while (!this.hasEnded && this.keeps) await this.next();
      await this.sent;
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
    }
  }
}
