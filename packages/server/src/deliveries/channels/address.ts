import { createHmac } from 'node:crypto';
import type { AddressOptions } from '../options.ts';
import { notDelivered, notSent } from '../outcome.ts';
import type { Channel } from './channel.ts';

/** Milliseconds that a receiver may take. */
const PATIENCE = 60_000;

/** Statuses after which the same may be taken another time. */
const PASSING = new Set([408, 425, 429]);

/** Signs what is sent, as `v1,…`: HMAC-SHA256 over the id, the time and the body, with points between them. */
export const signatureOf = (secret: string, id: string, seconds: number, body: Uint8Array): string =>
  `v1,${createHmac('sha256', secret).update(`${id}.${seconds}.`).update(body).digest('base64')}`;

export const addressChannel = (addresses: Readonly<Record<string, AddressOptions>>): Channel<'address'> => ({
  send: async ({ target, files, part, name }, signal) => {
    const address = Object.hasOwn(addresses, target.name) ? addresses[target.name] : undefined;
    if (!address) throw notDelivered('delivery-target-unknown', { name: target.name, hint: '' });
    let status = 0;
    for (const [place, file] of files.entries()) {
      const id = `${part.id}-${place}`;
      const seconds = Math.floor(Date.now() / 1000);
      const body = Buffer.from(file.bytes);
      const headers = {
        'content-type': file.mime,
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
        'webhook-id': id,
        'webhook-timestamp': String(seconds),
        'webhook-signature': signatureOf(address.secret, id, seconds, body),
        'idempotency-key': id,
        'gaveta-delivery': encodeURIComponent(name),
      };
      const patience = AbortSignal.any([signal, AbortSignal.timeout(PATIENCE)]);
      const answer = await fetch(address.url, {
        method: 'POST',
        headers,
        body,
        signal: patience,
        redirect: 'error',
      }).catch(() => {
        signal.throwIfAborted();
        throw notSent(
          patience.aborted ? 'the address did not answer in time.' : 'the address cannot be reached.',
          true,
        );
      });
      await answer.body?.cancel();
      ({ status } = answer);
      if (!answer.ok)
        throw notSent(`the address answered with HTTP status ${status}.`, status >= 500 || PASSING.has(status));
    }
    return `HTTP ${status}`;
  },
});
