import type { DeliveryOptions } from '../options.ts';
import { addressChannel } from './address.ts';
import type { Channels } from './channel.ts';
import { folderChannel } from './folder.ts';
import { type Mailer, mailChannel } from './mail.ts';
import { printerChannel } from './printer.ts';

/** Every way to send something. */
export const channelsOf = (
  { folders = {}, addresses = {}, printers = {} }: DeliveryOptions,
  mailer: Mailer | null,
): Channels => ({
  mail: mailChannel(mailer),
  folder: folderChannel(folders),
  address: addressChannel(addresses),
  printer: printerChannel(printers),
  // The pages were kept as they were made.
  kept: { mayRepeat: true, send: async ({ part }) => part.content },
});
