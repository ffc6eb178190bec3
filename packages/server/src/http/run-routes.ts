import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type BodyRead, CONTRACT } from '@gaveta/core/contract';
import type { RunState } from '@gaveta/core/internal';
import type { FileType } from '@gaveta/output';
import { fileName } from '@gaveta/output/file-name';
import type { NamelessFile } from '@gaveta/output/nameless-file';
import type { Response, Router } from 'express';
import { left } from '../runs/run-file.ts';
import type { Run } from '../runs/runs.ts';
import type { Caller } from '../services/call.ts';
import { readBy } from '../services/call.ts';
import type { FileOfRun, FilesAsked } from '../services/files-of-runs.ts';
import { type RunService, stateOf, waited } from '../services/runs.ts';
import { goneSignal } from './gone.ts';
import { addRoute } from './routes.ts';
import { RunEvents } from './run-events.ts';

/** What is sent of runs besides JSON: events, pictures, and files. */
export const addRunRoutes = (api: Router, service: RunService): void => {
  const events = new RunEvents((run: Run) => JSON.stringify(stateOf(run)));

  addRoute(api, 'GET /runs/:id/events', (request, response, caller) => {
    events.follow(service.run(String(request.params.id), caller), response);
  });
  addRoute(api, 'GET /pictures/:hash', async (request, response, caller) => {
    const file = await service.picture(String(request.params.hash), caller);
    // The hash is that of its bytes, so it never changes: a browser asks for it once.
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .type(file[0] === 0x89 ? 'png' : 'jpeg')
      .send(Buffer.from(file.buffer, file.byteOffset, file.byteLength));
  });
  const send = async (run: Run, asked: FilesAsked, response: Response, caller: Caller): Promise<void> => {
    // What cannot be made at all is said before the run is waited for.
    service.files.checkFiles(run, asked);
    service.notes.exported(
      run,
      asked.files.map(({ output }) => output),
      caller,
    );
    await sendOf([run], ([state]) => service.files.file(run, state!, asked), response);
  };
  addRoute(api, 'GET /runs/:id/files/:output', (request, response, caller) => {
    const { problems, filename, ...options } = request.query;
    const { id, output } = request.params;
    const files = [{ output: String(output), options }];
    const pattern = typeof filename === 'string' ? filename : undefined;
    const asked = { files, pattern, asIs: problems === 'allow' };
    return send(service.run(String(id), caller), asked, response, caller);
  });
  addRoute(api, 'POST /runs/:id/files/:output', (request, response, caller) => {
    const name = 'POST /runs/:id/files/:output';
    const { problems, filename, options } = readBy(CONTRACT[name].body, request.body ?? {}) as BodyRead<typeof name>;
    const { id, output } = request.params;
    const files = [{ output: String(output), options }];
    const asked = { files, pattern: filename, asIs: problems === 'allow' };
    return send(service.run(String(id), caller), asked, response, caller);
  });
  addRoute(api, 'POST /runs/:id/files', (request, response, caller) => {
    const name = 'POST /runs/:id/files';
    const { problems, filename, files } = readBy(CONTRACT[name].body, request.body ?? {}) as BodyRead<typeof name>;
    const asked = { files, pattern: filename, asIs: problems === 'allow', isZip: true };
    return send(service.run(String(request.params.id), caller), asked, response, caller);
  });
  addRoute(api, 'POST /joined-runs', async (request, response, caller) => {
    const name = 'POST /joined-runs';
    const { runs: ids, problems, ...asked } = readBy(CONTRACT[name].body, request.body ?? {}) as BodyRead<typeof name>;
    const runs = ids.map((id) => service.run(id, caller));
    const joined = { ...asked, title: asked.title ?? runs.map(({ report }) => report.name).join(', ') };
    service.files.checkJoined(joined);
    for (const run of runs) service.notes.exported(run, [joined.output], caller);
    await sendOf(runs, () => service.files.joined(runs, { ...joined, asIs: problems === 'allow' }), response);
  });
};

/** Waits for runs, and sends the file that is made of them. One whom nobody waits for any more is not made. */
const sendOf = async (
  runs: readonly Run[],
  make: (states: readonly RunState[]) => FileOfRun,
  response: Response,
): Promise<void> => {
  const gone = goneSignal(response);
  const holds = runs.map((run) => run.hold());
  try {
    const states = await Promise.race([Promise.all(runs.map((run) => run.finished())), left(gone)]);
    if (states === null) return;
    const { type, name, errors, file: made, close } = make(states);
    const letFileGo = made.hold();
    try {
      const file = await waited(made.whole(gone));
      if (!file) return;
      response.set('Gaveta-Problems', String(errors));
      await sendFile(file, type, name, response);
    } finally {
      letFileGo();
      await close?.();
    }
  } finally {
    for (const letGo of holds) letGo();
  }
};

/** Sends a file. One that cannot be completed is cut off, so that nobody takes it for whole. */
const sendFile = async (file: NamelessFile, type: FileType, name: string, response: Response): Promise<void> => {
  // What a header may hold (RFC 8187, 3.2.1).
  const safe = encodeURIComponent(fileName(name, 'report')).replace(
    /['()*]/g,
    (sign) => `%${sign.charCodeAt(0).toString(16)}`,
  );
  response.set({
    'Content-Type': type.mime,
    'Content-Length': String(file.size),
    'Content-Disposition': `attachment; filename="report.${type.extension}"; filename*=UTF-8''${safe}.${type.extension}`,
  });
  // Whoever goes away while it is sent has gone, and nothing is wrong.
  await pipeline(Readable.from(file.chunks(), { objectMode: true }), response).catch((error: unknown) => {
    if (!response.destroyed) throw error;
  });
};
