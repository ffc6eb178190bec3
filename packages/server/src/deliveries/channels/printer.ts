import { PrinterError, printOnce } from '../../ipp/client.ts';
import { notDelivered, notSent } from '../outcome.ts';
import type { Channel } from './channel.ts';

/** Milliseconds that a printer may take for one file. */
const PATIENCE = 120_000;

export const printerChannel = (printers: Readonly<Record<string, string>>): Channel<'printer'> => ({
  send: async ({ target, files, part, name, owner }, signal) => {
    const printer = Object.hasOwn(printers, target.name) ? printers[target.name] : undefined;
    if (printer === undefined) throw notDelivered('delivery-target-unknown', { name: target.name, hint: '' });
    const { copies, sides } = target;
    const jobs: number[] = [];
    for (const [place, { mime, bytes }] of files.entries()) {
      const patience = AbortSignal.any([signal, AbortSignal.timeout(PATIENCE)]);
      // The printer knows it again by this name.
      const job = { name: `${name} (${part.id}-${place})`, user: owner, mime, bytes, copies, sides };
      try {
        jobs.push(await printOnce(printer, job, part.tries <= 1, patience));
      } catch (error) {
        signal.throwIfAborted();
        if (error instanceof PrinterError) throw notSent(error.message, error.isTemporary);
        if (patience.aborted) throw notSent('the printer did not answer in time.', true);
        throw error;
      }
    }
    return jobs.join(', ');
  },
});
