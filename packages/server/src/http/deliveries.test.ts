import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import type { Session } from '../access/session.ts';
import { signatureOf } from '../deliveries/channels/address.ts';
import {
  deliveringHost,
  delivery,
  EACH_REGION,
  LEAD,
  OFFICE,
  READER,
  SIGNING,
  wordsOfPdf,
} from './deliveries.test-support.ts';

const { opened, ask } = deliveringHost();

/** Creates a delivery, and gives its id. */
const created = async (definition: object, who: Session = OFFICE): Promise<string> => {
  const { status, body } = await ask(who, 'post', '/deliveries', { definition });
  expect(body).toMatchObject({ owner: who.user });
  expect(status).toBe(201);
  return body.id;
};

/** Lets a delivery go, and gives what became of it once it is over. */
const gone = async (id: string, who: Session = OFFICE) => {
  const { body } = await ask(who, 'post', `/deliveries/${id}/runs`);
  return ended(body.id, who);
};
const ended = async (run: string, who: Session = OFFICE) => {
  await expect
    .poll(async () => (await ask(who, 'get', `/delivery-runs/${run}`)).body.endedAt, { timeout: 60_000 })
    .toBeTruthy();
  return (await ask(who, 'get', `/delivery-runs/${run}`)).body;
};
const mails = () => opened.places.outbox.mails();
const pdfOf = (id: string): string => wordsOfPdf(opened.places.outbox.attachment(id, 0)!.bytes);

describe('a mail', () => {
  test('comes with the report as a file and its words filled in', async () => {
    const run = await gone(await created(delivery()));
    expect(run).toMatchObject({ state: 'done', sent: 1, failed: 0, why: 'by-hand' });
    const [mail] = mails();
    const today = new Date().toISOString().slice(0, 10);
    expect(mail).toMatchObject({
      from: '"Cumeeira" <reports@cumeeira.example>',
      to: ['office@cumeeira.example'],
      subject: `Huts of a region on ${today}`,
      words: '28 rows on 1 page',
      attachments: [{ name: 'Huts of a region.pdf', mime: 'application/pdf' }],
    });
    expect(mail!.messageId).toBe(`<${run.contents[0].parts[0].id}@cumeeira.example>`);
    expect(pdfOf(mail!.id)).toContain('Encosta Sul');
    expect(run.contents[0].parts[0]).toMatchObject({ state: 'done', to: 'office@cumeeira.example', tries: 1 });
    const file = await ask(OFFICE, 'get', `/delivery-runs/${run.id}/files/0/0`);
    expect(file.headers['content-type']).toBe('application/pdf');
  });

  test('goes to people and groups of the application, each by their own address, or together', async () => {
    const to = [{ user: 'Teresa' }, { group: 'wardens' }, { address: 'Warden1@cumeeira.example' }];
    const mail = { kind: 'mail', to, subject: 'Huts', words: '' };
    await gone(await created(delivery({ to: [mail] })));
    expect(mails().map((one) => one.to)).toHaveLength(5);
    opened.places.outbox.empty();
    await gone(await created(delivery({ to: [{ ...mail, together: true }] })));
    expect(mails()).toHaveLength(1);
    expect(mails()[0]!.to).toHaveLength(5);
  });

  test('goes to those whom it can reach, and says whom it cannot', async () => {
    const to = [{ user: 'Nobody’s mail' }, { user: 'A stranger' }, { user: 'Teresa' }];
    const run = await gone(await created(delivery({ to: [{ kind: 'mail', to, subject: 'Huts', words: '' }] })));
    expect(run).toMatchObject({ state: 'partly', sent: 1, failed: 2 });
    const said = run.contents[0].parts.flatMap((part: { said: { code: string } | null }) => part.said?.code ?? []);
    expect(said.sort()).toEqual(['delivery-no-address', 'delivery-person-unknown']);
    expect(mails().map((one) => one.to[0])).toContain('teresa@cumeeira.example');
    // Whoever owns it is told, once the run has ended.
    const told = (): string[] | undefined => mails().find(({ subject }) => subject.startsWith('Not delivered'))?.to;
    await expect.poll(told, { timeout: 60_000 }).toEqual(['ines@cumeeira.example']);
  });

  test('has a head of one line, whatever is filled in', async () => {
    const to = [{ address: 'office@cumeeira.example' }];
    const subject = 'Huts{UNICHAR(13) & UNICHAR(10)}Bcc: somebody@else.example';
    await gone(await created(delivery({ to: [{ kind: 'mail', to, subject, words: '' }] })));
    expect(mails()[0]).toMatchObject({ subject: 'Huts Bcc: somebody@else.example', to: ['office@cumeeira.example'] });
  });
});

describe('each row', () => {
  test('gets its part: values and words of its own, and no other rows', async () => {
    const definition = delivery({
      each: EACH_REGION,
      values: { region: { formula: 'name' } },
      fileName: 'Huts of {name}',
      to: [{ kind: 'mail', to: [{ address: 'office@cumeeira.example' }], subject: '{name}: {rows} rows', words: '' }],
    });
    const run = await gone(await created(definition));
    expect(run).toMatchObject({ state: 'done', sent: 4, of: 4 });
    const regions = run.contents.map(({ label }: { label: string }) => label);
    expect(new Set(regions).size).toBe(4);
    for (const region of regions) {
      const mail = mails().find(({ subject }) => subject.startsWith(`${region}:`))!;
      expect(mail.attachments[0]!.name).toBe(`Huts of ${region}.pdf`);
      const words = pdfOf(mail.id);
      expect(words).toContain(region);
      for (const other of regions) if (other !== region) expect(words).not.toContain(other);
    }
  });

  test('gets the pages of a run of its own also where the rows of all parts are read together', async () => {
    const steps = [
      { step: 'take', from: { model: 'cumeeira', entity: 'hut' } },
      { step: 'sort', by: [{ field: 'name' }] },
    ];
    const definition = delivery({
      ...{ report: 'huts-of-one', each: { steps }, values: { hut: { formula: 'name' } }, fileName: '{name}' },
      files: [{ output: 'pdf' }, { output: 'csv' }],
      to: [{ kind: 'mail', to: [{ address: 'office@cumeeira.example' }], subject: '{name}: {pages} page', words: '' }],
    });
    const run = await gone(await created(definition));
    expect(run).toMatchObject({ state: 'done', sent: 24, of: 24 });
    for (const hut of ['Alminhas', run.contents[10].label, run.contents[23].label]) {
      const mail = mails().find(({ subject }) => subject === `${hut}: 1 page`)!;
      expect(mail.attachments.map(({ name }) => name)).toEqual([`${hut}.pdf`, `${hut}.csv`]);
      for (const [place, format] of ['pdf', 'csv'].entries()) {
        const own = await opened.gaveta.render('huts-of-one', { format, parameters: { hut }, claims: OFFICE.claims });
        const chunks: Buffer[] = [];
        for await (const chunk of own.stream!) chunks.push(chunk as Buffer);
        const [sent, alone] = [opened.places.outbox.attachment(mail.id, place)!.bytes, Buffer.concat(chunks)];
        if (format === 'csv')
          expect(sent.toString('utf8').replace(/\r/g, '')).toBe(alone.toString('utf8').replace(/\r/g, ''));
        else expect(wordsOfPdf(sent)).toBe(wordsOfPdf(alone));
      }
    }
  });

  test('may be for a person, whose rows alone it has', async () => {
    const steps = [
      ...EACH_REGION.steps,
      { step: 'add', name: 'warden', formula: '"Warden of " & name', label: 'Warden' },
    ];
    const definition = delivery({
      each: { steps, person: 'warden', rowsOf: 'person' },
      to: [{ kind: 'mail', to: [{ person: true }], subject: 'Yours', words: '' }],
    });
    const run = await gone(await created(definition));
    expect(run).toMatchObject({ state: 'done', sent: 4 });
    for (const region of [1, 2, 3, 4]) {
      const mail = mails().find(({ to }) => to[0] === `warden${region}@cumeeira.example`)!;
      const own = await opened.gaveta.render('regions', {
        format: 'pdf',
        claims: { role: 'warden', region },
      });
      const chunks: Buffer[] = [];
      for await (const chunk of own.stream!) chunks.push(chunk as Buffer);
      expect(pdfOf(mail.id)).toBe(wordsOfPdf(Buffer.concat(chunks)));
    }
  });

  test('goes nowhere where its row gives no value, which would bring the rows of all', async () => {
    const steps = [
      ...EACH_REGION.steps,
      { step: 'add', name: 'some', formula: 'IF(name = "Encosta Sul"; ""; name)', label: 'Some' },
    ];
    const run = await gone(await created(delivery({ each: { steps }, values: { region: { formula: 'some' } } })));
    expect(run).toMatchObject({ state: 'partly', sent: 3, failed: 1 });
    const failed = run.contents.find(({ state }: { state: string }) => state === 'failed');
    expect(failed).toMatchObject({ label: 'Encosta Sul', said: { code: 'delivered-value-wrong' }, files: [] });
  });

  test('goes nowhere where the person is not known, and the others get theirs', async () => {
    const steps = [
      ...EACH_REGION.steps,
      {
        step: 'add',
        name: 'warden',
        formula: 'IF(name = "Encosta Sul"; "Nobody"; "Warden of " & name)',
        label: 'Warden',
      },
    ];
    const definition = delivery({
      each: { steps, person: 'warden', rowsOf: 'person' },
      to: [{ kind: 'mail', to: [{ person: true }], subject: 'Yours', words: '' }],
    });
    const run = await gone(await created(definition));
    expect(run).toMatchObject({ state: 'partly', sent: 3, failed: 1 });
  });
});

describe('other places', () => {
  test('a folder gets files whole, and a second one of the same name beside the first', async () => {
    const id = await created(
      delivery({ to: [{ kind: 'folder', name: 'archive' }], values: { region: 'Encosta Sul' } }),
    );
    await gone(id);
    const run = await gone(id);
    expect(run.state).toBe('done');
    const found = readdirSync(opened.places.folder).sort();
    // The same bytes are the same file; a PDF says when it was made.
    expect(found.every((name) => /^Huts of a region( \(2\))?\.pdf$/.test(name))).toBe(true);
    expect(readFileSync(join(opened.places.folder, found[0]!)).subarray(0, 5).toString()).toBe('%PDF-');
  });

  test('an address gets files signed, with an id by which it knows them again', async () => {
    const definition = delivery({
      to: [{ kind: 'address', name: 'intake' }],
      files: [{ output: 'csv' }, { output: 'json' }],
    });
    const run = await gone(await created(definition));
    expect(run.contents[0].parts[0]).toMatchObject({ state: 'done', receipt: 'HTTP 204' });
    expect(opened.places.posted).toHaveLength(2);
    for (const { headers, body } of opened.places.posted) {
      const id = String(headers['webhook-id']);
      expect(id).toMatch(new RegExp(`^${run.contents[0].parts[0].id}-[01]$`));
      expect(headers['webhook-signature']).toBe(signatureOf(SIGNING, id, Number(headers['webhook-timestamp']), body));
    }
    expect(opened.places.posted[0]!.body.toString('utf8')).toContain('Encosta Sul');
  });

  test('a printer gets a job, with copies and sides', async () => {
    const to = [{ kind: 'printer', name: 'office', copies: 3, sides: 'long-edge' }];
    await gone(await created(delivery({ to })));
    expect(opened.places.tray.jobs()).toMatchObject([{ copies: 3, sides: 'two-sided-long-edge', user: 'Inês' }]);
    const { body } = await ask(OFFICE, 'get', '/printer-tray');
    const document = await ask(OFFICE, 'get', `/printer-tray/${body[0].id}/document`);
    expect(wordsOfPdf(document.body)).toContain('Encosta Sul');
  });

  test('a kept result stays as it was, for those it is for', async () => {
    const to = [{ kind: 'kept', for: ['group:leads'] }];
    const run = await gone(await created(delivery({ to })));
    expect(run.state).toBe('done');
    const { body: list } = await ask(LEAD, 'get', '/kept?report=regions');
    expect(list).toMatchObject([
      { name: 'Huts of a region', owner: 'Inês', pages: 1, may: 'see', files: [{ name: 'Huts of a region.pdf' }] },
    ]);
    const [{ id }] = list;
    const { body: pages } = await ask(LEAD, 'get', `/kept/${id}/pages?from=1&count=5`);
    expect(pages).toHaveLength(1);
    expect(JSON.stringify(pages)).toContain('Encosta Sul');
    expect((await ask(READER, 'get', '/kept')).body).toEqual([]);
    expect((await ask(READER, 'get', `/kept/${id}`)).status).toBe(404);
    expect((await ask(READER, 'get', `/kept/${id}/files/0`)).status).toBe(404);
    expect((await ask(LEAD, 'delete', `/kept/${id}`)).status).toBe(403);
    expect((await ask(OFFICE, 'delete', `/kept/${id}`)).status).toBe(204);
    expect((await ask(LEAD, 'get', '/kept')).body).toEqual([]);
  });
});

describe('what goes wrong', () => {
  test('is told where it is written', async () => {
    const wrong = async (more: object) =>
      (await ask(OFFICE, 'post', '/deliveries', { definition: delivery(more) })).body;
    expect(await wrong({ report: 'nothing' })).toMatchObject({ code: 'unknown-report' });
    expect(await wrong({ values: { regoin: 'x' } })).toMatchObject({
      code: 'wrong-delivery',
      problems: [{ code: 'unknown-parameter' }],
    });
    expect(await wrong({ to: [{ kind: 'printer', name: 'attic' }] })).toMatchObject({
      problems: [{ code: 'delivery-target-unknown', place: { path: 'to/0' } }],
    });
    expect(await wrong({ fileName: '{nmae}' })).toMatchObject({
      problems: [{ code: 'unknown-name', place: { path: 'fileName' } }],
    });
    expect(await wrong({ files: [{ output: 'papyrus' }] })).toMatchObject({ code: 'unknown-output' });
    expect(
      await wrong({ when: { kind: 'calendar', calendar: { days: { each: 'day' }, times: ['25:00'], zone: 'UTC' } } }),
    ).toMatchObject({
      code: 'wrong-body',
    });
    const to = [
      { kind: 'mail', to: [{ address: 'office@cumeeira.example\r\nBcc: x@y.example' }], subject: '', words: '' },
    ];
    expect(await wrong({ to })).toMatchObject({ code: 'wrong-body' });
  });

  test('stops the delivery when its owner may not run the report any more, and it goes on when they may', async () => {
    const id = await created(delivery(), LEAD);
    await opened.gaveta.library.grant({ folder: 'root' }, 'everybody', null);
    const run = await gone(id, LEAD);
    expect(run).toMatchObject({ state: 'failed', said: { code: 'delivery-report-gone' } });
    expect((await ask(LEAD, 'get', `/deliveries/${id}`)).body).toMatchObject({
      state: 'stopped',
      said: { code: 'delivery-report-gone' },
    });
    expect(mails().filter(({ to }) => to[0] === 'teresa@cumeeira.example')).toHaveLength(1);
    expect(mails()).toHaveLength(1);
    await opened.gaveta.library.grant({ folder: 'root' }, 'everybody', 'see');
    await ask(LEAD, 'put', `/deliveries/${id}/state`, { state: 'on' });
    expect(await gone(id, LEAD)).toMatchObject({ state: 'done' });
  });

  test('stops the delivery when the application does not know its owner any more', async () => {
    const id = await created(delivery(), LEAD);
    const person = opened.places.people.get('Teresa')!;
    opened.places.people.delete('Teresa');
    expect(await gone(id)).toMatchObject({ state: 'failed', said: { code: 'delivery-owner-gone' } });
    opened.places.people.set('Teresa', person);
  });

  test('is tried again by hand, and what arrived is not sent again', async () => {
    opened.places.answer.status = 500;
    const to = [
      { kind: 'address', name: 'intake' },
      { kind: 'mail', to: [{ address: 'office@cumeeira.example' }], subject: 'x', words: '' },
    ];
    const run = await gone(await created(delivery({ to })));
    expect(run).toMatchObject({ state: 'partly', sent: 1, failed: 1 });
    expect(run.contents[0].parts[0].said.text).toBe('It could not be sent: the address answered with HTTP status 500.');
    opened.places.answer.status = 200;
    await ask(OFFICE, 'post', `/delivery-runs/${run.id}/again`);
    expect(await ended(run.id)).toMatchObject({ state: 'done', sent: 2, failed: 0 });
    expect(mails().filter(({ subject }) => subject === 'x')).toHaveLength(1);
    expect((await ask(OFFICE, 'post', `/delivery-runs/${run.id}/again`)).status).toBe(409);
  });
});

describe('who', () => {
  test('sees their own deliveries, and all of them with the right “manage”', async () => {
    const id = await created(delivery({ name: 'The office’s' }));
    const own = await created(delivery({ name: 'The lead’s' }), LEAD);
    const names = async (who: Session) =>
      (await ask(who, 'get', '/deliveries')).body.map((one: { id: string }) => one.id);
    expect(await names(LEAD)).toContain(own);
    expect(await names(LEAD)).not.toContain(id);
    expect(await names(OFFICE)).toEqual(expect.arrayContaining([id, own]));
    for (const [method, path] of [
      ['get', ''],
      ['delete', ''],
      ['get', '/runs'],
      ['post', '/runs'],
    ] as const)
      expect((await ask(LEAD, method, `/deliveries/${id}${path}`)).status).toBe(404);
    expect((await ask(READER, 'get', '/deliveries')).status).toBe(403);
    expect((await ask(LEAD, 'get', '/outbox')).status).toBe(403);
  });

  test('reads files and kept results of others only where they are for them, also with the right “manage”', async () => {
    const definition = delivery({ to: [{ kind: 'kept' }], name: 'The lead’s own' });
    const run = await gone(await created(definition, LEAD), LEAD);
    expect(run.contents[0].files).toHaveLength(1);
    const path = `/delivery-runs/${run.id}/files/0/0`;
    expect((await ask(LEAD, 'get', path)).status).toBe(200);
    // They see what became of it, and not the rows.
    expect((await ask(OFFICE, 'get', `/delivery-runs/${run.id}`)).body).toMatchObject({
      state: 'done',
      contents: [{ files: [] }],
    });
    expect((await ask(OFFICE, 'get', path)).status).toBe(404);
    const [kept] = (await ask(LEAD, 'get', '/kept')).body;
    for (const who of [OFFICE, READER]) expect((await ask(who, 'get', `/kept/${kept.id}`)).status).toBe(404);
    expect((await ask(LEAD, 'delete', `/kept/${kept.id}`)).status).toBe(204);
  });

  test('runs as whoever saved it last, with the rows that they see', async () => {
    const id = await created(delivery({ name: 'Changed' }), LEAD);
    await gone(id, LEAD);
    expect(pdfOf(mails()[0]!.id)).not.toContain('Encosta Sul');
    const { body } = await ask(OFFICE, 'put', `/deliveries/${id}`, {
      definition: delivery({ name: 'Changed' }),
      base: 1,
    });
    expect(body).toMatchObject({ owner: 'Inês', revision: 2, runsAs: { claims: { role: 'office' } } });
    expect((await ask(LEAD, 'get', `/deliveries/${id}`)).status).toBe(404);
    const again = await ask(OFFICE, 'put', `/deliveries/${id}`, { definition: delivery(), base: 1 });
    expect(again.body).toMatchObject({ code: 'conflict', data: { author: 'Inês', revision: 2 } });
  });
});

test('a look at what would go tells how many, and the words for the first, and sends nothing', async () => {
  const definition = delivery({
    each: EACH_REGION,
    values: { region: { formula: 'name' } },
    fileName: 'Huts of {name}',
    to: [{ kind: 'mail', to: [{ group: 'wardens' }], subject: '{name}: {rows} rows', words: 'Dear wardens' }],
  });
  const { body } = await ask(OFFICE, 'post', '/deliveries/check', { definition });
  expect(body).toMatchObject({ problems: [], parts: 4 });
  expect(body.fields.map(({ name }: { name: string }) => name)).toContain('hectares');
  const [first] = body.samples;
  expect(first).toMatchObject({ values: { region: first.label }, fileNames: [`Huts of ${first.label}.pdf`] });
  expect(first.mails[0]).toMatchObject({ subject: `${first.label}: … rows`, words: 'Dear wardens' });
  expect(first.mails[0].to).toHaveLength(4);
  expect(mails()).toEqual([]);
  const wrong = await ask(OFFICE, 'post', '/deliveries/check', {
    definition: { ...definition, values: { region: { formula: '1/0' } } },
  });
  expect(wrong.body).toMatchObject({
    problems: [{ code: 'delivered-value-wrong', place: { path: 'values/region' } }],
    samples: [],
  });
});

test('an event lets those go that wait for it, once for each key', async () => {
  const id = await created(delivery({ when: { kind: 'event', name: 'season closed' } }));
  expect(await opened.gaveta.deliveries.event('season closed', { key: '2026' })).toBe(1);
  expect(await opened.gaveta.deliveries.event('season closed', { key: '2026' })).toBe(0);
  expect((await ask(OFFICE, 'post', '/delivery-events/season%20closed', { key: '2027' })).body).toEqual({
    deliveries: 1,
  });
  expect(await opened.gaveta.deliveries.event('another')).toBe(0);
  await expect.poll(() => mails().length, { timeout: 60_000 }).toBe(2);
  const { body } = await ask(OFFICE, 'get', `/deliveries/${id}/runs`);
  expect(body.map(({ why }: { why: string }) => why)).toEqual(['event', 'event']);
});
