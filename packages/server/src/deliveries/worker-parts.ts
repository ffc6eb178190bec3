import type { ProblemValue } from '@gaveta/core/internal';
import type { RecipeParts } from '../services/looking.ts';
import type { RunService } from '../services/runs.ts';
import type { StoredDeliveryRun } from '../store/delivery-records.ts';
import type { StoredDelivery } from '../store/delivery-store.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import type { Channels } from './channels/channel.ts';
import type { Clock } from './clock.ts';
import type { DeliveryOptions } from './options.ts';

/** What deliveries are done with. */
export interface WorkerParts extends RecipeParts {
  service: RunService;
  threads: ReportThreads;
  options: DeliveryOptions;
  channels: Channels;
  clock: Clock;
  /** Throws NotDelivered where mails may not go to an address. */
  checkAddress: (address: string) => void;
  /** Told of a run that is over. */
  ended: (run: StoredDeliveryRun, delivery: StoredDelivery) => Promise<void>;
  /** Finds words for an error that nobody expected, and tells the log of it. */
  wordsFor: (error: unknown) => ProblemValue;
  log: (error: unknown) => void;
}
