import type { Response, Router } from 'express';
import { ApiError } from '../base/api-error.ts';
import { keptOf } from '../deliveries/kept-service.ts';
import type { DeliveryOptions } from '../deliveries/options.ts';
import { outboxOf, trayOf } from '../deliveries/stand-in-service.ts';
import type { Caller } from '../services/call.ts';
import type { Gate } from '../services/gate.ts';
import type { Store } from '../store/store.ts';
import { addRoute } from './routes.ts';

export interface DeliveryRouteParts {
  store: Store;
  gate: Gate;
  deliveryOptions: DeliveryOptions;
}

/** What browsers show by themselves without running anything in it. */
const SHOWN = ['application/pdf', 'image/png', 'image/jpeg', 'text/plain'];

const send = (
  response: Response,
  { name, mime, bytes }: { name: string; mime: string; bytes: Uint8Array },
  download: unknown,
): void => {
  const isShown = SHOWN.includes(mime) && download !== 'true';
  const called = `filename*=UTF-8''${encodeURIComponent(name)}`;
  response
    .set('Content-Disposition', `${isShown ? 'inline' : 'attachment'}; ${called}`)
    .set('X-Content-Type-Options', 'nosniff')
    .type(mime)
    .send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
};

const placeOf = (text: unknown): number => (/^\d{1,6}$/.test(String(text)) ? Number(text) : -1);

/** Files of deliveries, of kept results, and of what stands in for a mail server and a printer. */
export const addDeliveryRoutes = (api: Router, { store, gate, deliveryOptions }: DeliveryRouteParts): void => {
  const gone = (): ApiError => new ApiError('unknown-delivered-file');
  const runOf = async (caller: Caller, id: string): Promise<void> => {
    const run = await store.deliveryRuns.get(id);
    const delivery = run && (await store.deliveries.get(run.delivery));
    // Who manages all sees what became of it, and not the rows that its owner sees.
    if (delivery?.owner !== caller.user) throw new ApiError('unknown-delivery-run', { id });
  };
  addRoute(api, 'GET /delivery-runs/:id/files/:content/:place', async (request, response, caller) => {
    const id = String(request.params.id);
    await runOf(caller, id);
    const at = placeOf(request.params.content);
    const [content] = at < 0 ? [] : await store.deliveryRuns.contents(id, at, 1);
    const place = placeOf(request.params.place);
    const file = content && place >= 0 ? await store.deliveryRuns.file(content.id, place) : null;
    if (!file) throw gone();
    send(response, file, request.query.download);
  });
  addRoute(api, 'GET /kept/:id/files/:place', async (request, response, caller) => {
    const { id } = await keptOf(store, gate, caller, String(request.params.id));
    const place = placeOf(request.params.place);
    const file = place < 0 ? null : await store.keptResults.file(id, place);
    if (!file) throw gone();
    send(response, file, request.query.download);
  });
  addRoute(api, 'GET /outbox/:id/attachments/:place', (request, response) => {
    const { id, place } = request.params;
    const file = outboxOf(deliveryOptions).attachment(String(id), placeOf(place));
    if (!file) throw gone();
    send(response, file, request.query.download);
  });
  addRoute(api, 'GET /printer-tray/:id/document', (request, response) => {
    const tray = trayOf(deliveryOptions);
    const id = placeOf(request.params.id);
    const job = tray.jobs().find((one) => one.id === id);
    const bytes = tray.document(id);
    if (!job || !bytes) throw gone();
    send(response, { name: job.name, mime: job.mime, bytes }, request.query.download);
  });
};
