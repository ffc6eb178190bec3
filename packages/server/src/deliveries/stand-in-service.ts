import { ApiError } from '../base/api-error.ts';
import type { Calls } from '../services/call.ts';
import type { Outbox, PrinterTray } from '../stand-ins/index.ts';
import type { DeliveryOptions } from './options.ts';

type StandInCall = 'GET /outbox' | 'GET /outbox/:id' | 'DELETE /outbox' | 'GET /printer-tray';

export const outboxOf = ({ standIns }: DeliveryOptions): Outbox => {
  if (!standIns?.outbox) throw new ApiError('no-stand-in', { name: 'outbox' });
  return standIns.outbox;
};

export const trayOf = ({ standIns }: DeliveryOptions): PrinterTray => {
  if (!standIns?.tray) throw new ApiError('no-stand-in', { name: 'tray' });
  return standIns.tray;
};

/** What lies in the outbox and the printer’s tray that stand in for real ones. */
export const standInService = (options: DeliveryOptions): Calls<StandInCall> => ({
  'GET /outbox': () =>
    outboxOf(options)
      .mails()
      .map(({ words: _, messageId: _m, ...mail }) => mail),
  'GET /outbox/:id': ({ params: { id } }) => {
    const mail = outboxOf(options)
      .mails()
      .find((one) => one.id === id);
    if (!mail) throw new ApiError('unknown-mail', { id });
    return mail;
  },
  'DELETE /outbox': () => {
    outboxOf(options).empty();
    return undefined;
  },
  'GET /printer-tray': () => trayOf(options).jobs(),
});
