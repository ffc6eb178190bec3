import { addressSchema, calendarSchema, isTimeZone } from '@gaveta/core/internal';
import type { DeliveryOptions } from './options.ts';

/** Shortest secret that files for an address may be signed with. */
const LEAST_SECRET = 24;

const wrong = (words: string): Error => new Error(`createGaveta: deliveries: ${words}`);

const isUrl = (text: string, ...protocols: string[]): boolean =>
  URL.canParse(text) && protocols.includes(new URL(text).protocol);

/** Refuses options that cannot work, with the line to mend. */
export const checkDeliveryOptions = ({
  mail,
  folders = {},
  addresses = {},
  printers = {},
  zone,
  daysOff = [],
  waits = [],
}: DeliveryOptions): void => {
  if (mail) {
    if (typeof mail.server === 'string' && !isUrl(mail.server, 'smtp:', 'smtps:'))
      throw wrong('mail.server is no address of a mail server. Write it as smtp://mail.example:587');
    const address = /<([^<>]*)>\s*$/.exec(mail.from)?.[1] ?? mail.from;
    if (!addressSchema.safeParse(address).success)
      throw wrong(`mail.from: “${mail.from}” has no address. Write it as Reports <reports@office.example>`);
  }
  for (const [name, folder] of Object.entries(folders))
    if (folder.trim() === '') throw wrong(`folders: “${name}” names no folder`);
  for (const [name, { url, secret }] of Object.entries(addresses)) {
    if (!isUrl(url, 'http:', 'https:'))
      throw wrong(`addresses: “${name}”: “${url}” is no address. Write it as https://office.example/reports`);
    if (secret.length < LEAST_SECRET)
      throw wrong(`addresses: “${name}”: its secret needs at least ${LEAST_SECRET} characters`);
  }
  for (const [name, printer] of Object.entries(printers))
    if (!isUrl(printer, 'ipp:', 'ipps:', 'http:', 'https:'))
      throw wrong(`printers: “${name}”: “${printer}” is no printer. Write it as ipp://printer.example/ipp/print`);
  if (zone !== undefined && !isTimeZone(zone))
    throw wrong(`zone: “${zone}” is no time zone. Write it as Europe/Lisbon`);
  if (!calendarSchema.shape.leftOut.safeParse(daysOff).success)
    throw wrong('daysOff takes days as 2026-12-25, or 12-25 for every year');
  if (waits.some((seconds) => !(seconds >= 0 && seconds <= 30 * 24 * 3600)))
    throw wrong('waits are seconds, each at most 30 days');
};
