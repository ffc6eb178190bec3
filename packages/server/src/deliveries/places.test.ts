import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, test } from 'vitest';
import { openOutbox } from '../stand-ins/index.ts';
import type { StoredPart } from '../store/delivery-records.ts';
import { folderChannel } from './channels/folder.ts';
import { Mailer } from './channels/mail.ts';
import { checkDeliveryOptions } from './check-options.ts';
import { ProcessQueue } from './queue.ts';

const signal = new AbortController().signal;
const file = (name: string, text: string) => ({ name, mime: 'text/plain', bytes: Buffer.from(text) });

describe('a folder', () => {
  let folder = mkdtempSync(join(tmpdir(), 'gaveta-folder-'));
  beforeEach(() => {
    rmSync(folder, { recursive: true, force: true });
    folder = mkdtempSync(join(tmpdir(), 'gaveta-folder-'));
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const send = (...files: ReturnType<typeof file>[]): Promise<string> =>
    folderChannel({ archive: folder }).send(
      { part: { id: 'one' } as StoredPart, target: { kind: 'folder', name: 'archive' }, files, name: '', owner: '' },
      signal,
    );

  test('takes a file that it has already once, and another one of the name beside it', async () => {
    expect(await send(file('a.txt', 'first'))).toBe('a.txt');
    expect(await send(file('a.txt', 'first'))).toBe('a.txt');
    expect(await send(file('a.txt', 'second'), file('b', 'x'))).toBe('a (2).txt, b');
    expect(readdirSync(folder).sort()).toEqual(['a (2).txt', 'a.txt', 'b']);
    expect(readFileSync(join(folder, 'a (2).txt'), 'utf8')).toBe('second');
  });

  test('that is none may be one another time, and its path is told nobody', async () => {
    rmSync(folder, { recursive: true });
    writeFileSync(folder, 'a file');
    const failed = send(file('a.txt', 'x')).catch((error: unknown) => error);
    expect(await failed).toMatchObject({ isTemporary: true, said: { code: 'delivery-not-sent' } });
    expect(JSON.stringify(await failed)).not.toContain(folder);
    rmSync(folder);
  });
});

describe('a mailer', () => {
  test('sends a mail of one id once, and knows it again after the outbox was emptied', async () => {
    const outbox = await openOutbox();
    const mailer = new Mailer({ server: outbox.address, from: 'Reports <r@cumeeira.example>' });
    const mail = { id: 'one', to: ['a@b.example'], subject: 'Números', words: 'Olá', files: [file('ç.txt', 'x')] };
    await mailer.send(mail, signal);
    await mailer.send(mail, signal);
    expect(outbox.mails()).toMatchObject([
      { subject: 'Números', words: 'Olá', attachments: [{ name: 'ç.txt', size: 1 }] },
    ]);
    outbox.empty();
    await mailer.send(mail, signal);
    expect(outbox.mails()).toEqual([]);
    mailer.close();
    await outbox.close();
  });

  test('sends nowhere that is not allowed, no more than a mail may hold, and says whether it may go later', async () => {
    const mailer = new Mailer({
      ...{ server: 'smtp://127.0.0.1:1', from: 'r@cumeeira.example', allowed: ['@cumeeira.example'], mostBytes: 3 },
    });
    const mail = { id: 'one', to: ['a@Cumeeira.example'], subject: '', words: '', files: [] };
    await expect(mailer.send({ ...mail, to: ['a@b.example'] }, signal)).rejects.toMatchObject({
      said: { code: 'delivery-address-refused' },
      isTemporary: false,
    });
    await expect(mailer.send({ ...mail, files: [file('a', 'four')] }, signal)).rejects.toMatchObject({
      said: { code: 'delivery-too-large' },
    });
    await expect(mailer.send(mail, signal)).rejects.toMatchObject({ isTemporary: true });
    mailer.close();
  });
});

test('a queue does a few things at once, each once while it waits, and ends what is under way', async () => {
  const queue = new ProcessQueue();
  const begun: string[] = [];
  const ends: (() => void)[] = [];
  await queue.start(({ run }) => {
    begun.push(run);
    return new Promise((resolve) => ends.push(resolve));
  });
  for (const run of ['a', 'b', 'c', 'd', 'e', 'e', 'a']) await queue.put({ kind: 'send', run });
  expect(begun).toEqual(['a', 'b', 'c', 'd']);
  ends[1]!();
  await expect.poll(() => begun).toEqual(['a', 'b', 'c', 'd', 'e']);
  let isClosed = false;
  const closed = queue.close().then(() => {
    isClosed = true;
  });
  await queue.put({ kind: 'send', run: 'f' });
  expect(isClosed).toBe(false);
  for (const end of ends) end();
  await closed;
  expect(begun).not.toContain('f');
});

test.each([
  [{ mail: { server: 'mail.example', from: 'a@b.example' } }, 'mail.server'],
  [{ mail: { server: 'smtp://mail.example', from: 'Reports' } }, 'mail.from'],
  [{ addresses: { intake: { url: 'file:///etc', secret: 'x'.repeat(30) } } }, 'addresses: “intake”'],
  [{ addresses: { intake: { url: 'https://a.example', secret: 'short' } } }, 'at least 24 characters'],
  [{ printers: { office: 'lpt1' } }, 'printers: “office”'],
  [{ folders: { archive: ' ' } }, 'folders: “archive”'],
  [{ zone: 'Lisbon' }, 'zone: “Lisbon”'],
  [{ daysOff: ['25.12.'] }, 'daysOff'],
  [{ waits: [-1] }, 'waits'],
])('options that cannot work are refused with the line to mend: %j', (options, words) => {
  expect(() => checkDeliveryOptions(options)).toThrow(words);
});
