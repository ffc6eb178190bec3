import { execFile } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { openPrinterTray, type PrinterTray } from '../stand-ins/index.ts';
import { type PrinterError, type PrintJob, printOnce } from './client.ts';
import { attribute, decodeIpp, encodeIpp, IppError } from './message.ts';

const run = promisify(execFile);
const signal = new AbortController().signal;
const PDF = Buffer.from('%PDF-1.4\nnothing much\n%%EOF\n');

let tray: PrinterTray;
let folder: string;
beforeAll(async () => {
  tray = await openPrinterTray({ name: 'Office tray' });
  folder = await mkdtemp(join(tmpdir(), 'gaveta-ipp-'));
});
beforeEach(() => tray.empty());
afterAll(async () => {
  await tray.close();
  await rm(folder, { recursive: true });
});

const job = (more: Partial<PrintJob> = {}): PrintJob => ({
  ...{
    name: 'Season ledger (1f2e)',
    user: 'Inês (office)',
    mime: 'application/pdf',
    bytes: PDF,
    copies: 2,
    sides: 'long-edge',
  },
  ...more,
});

test('what is printed lies in the tray, with its name, copies and sides', async () => {
  const id = await printOnce(tray.address, job(), true, signal);
  expect(tray.jobs()).toMatchObject([
    {
      id,
      name: 'Season ledger (1f2e)',
      user: 'Inês (office)',
      size: PDF.length,
      copies: 2,
      sides: 'two-sided-long-edge',
    },
  ]);
  expect(tray.document(id)).toEqual(PDF);
});

test('a job that the printer has is not printed again when it is tried again', async () => {
  const first = await printOnce(tray.address, job(), true, signal);
  await printOnce(tray.address, job({ name: 'Another' }), true, signal);
  expect(await printOnce(tray.address, job(), false, signal)).toBe(first);
  expect(tray.jobs()).toHaveLength(2);
});

test('a printer that is not there may come back; one that takes no such format will not', async () => {
  await expect(printOnce('ipp://127.0.0.1:1/ipp/print', job(), true, signal)).rejects.toMatchObject({
    isTemporary: true,
  });
  const wrong = printOnce(tray.address, job({ mime: 'text/csv' }), true, signal);
  await expect(wrong).rejects.toThrow('the printer refused it: text/csv is not printed here.');
  await expect(wrong).rejects.toMatchObject({ isTemporary: false } satisfies Partial<PrinterError>);
  await expect(printOnce(tray.address.replace('print', 'other'), job(), true, signal)).rejects.toThrow(
    'no such printer',
  );
});

test('a message is read as it was written', () => {
  const message = {
    ...{ version: 0x0200, code: 2, requestId: 77 },
    groups: [
      {
        group: 'operation' as const,
        attributes: [attribute('job-name', 'name', 'Números', 'zwei'), attribute('last', 'boolean', true)],
      },
      { group: 'job' as const, attributes: [attribute('copies', 'integer', -3), attribute('pages', 'range', [1, 9])] },
      { group: 'job' as const, attributes: [attribute('at', 'dateTime', new Date('2026-12-01T07:08:09Z'))] },
    ],
  };
  const { message: read, rest } = decodeIpp(Buffer.concat([encodeIpp(message), PDF]));
  expect(read).toEqual(message);
  expect(rest).toEqual(PDF);
});

test('bytes that are no message are refused, however they are cut or changed', () => {
  const whole = encodeIpp({
    ...{ version: 0x0101, code: 2, requestId: 1 },
    groups: [{ group: 'operation', attributes: [attribute('job-name', 'name', 'a'), attribute('n', 'integer', 4)] }],
  });
  for (let length = 0; length < whole.length; length++)
    expect(() => decodeIpp(whole.subarray(0, length))).toThrow(IppError);
  for (let at = 0; at < whole.length; at++)
    for (const byte of [0, 1, 3, 0x34, 0x7f, 0xff]) {
      const changed = Buffer.from(whole);
      changed[at] = byte;
      try {
        decodeIpp(changed);
      } catch (error) {
        expect(error).toBeInstanceOf(IppError);
      }
    }
});

/** A test of Debian’s own IPP tool, over a file to print. */
const ipptool = async (script: string): Promise<string> => {
  const file = join(folder, 'one.pdf');
  writeFileSync(file, PDF);
  const { stdout } = await run('ipptool', ['-tf', file, tray.address, script]).catch(
    (error: { stdout: string }) => error,
  );
  return stdout;
};

test.each([
  'print-job.test',
  'get-jobs.test',
  'create-job.test',
])('an independent client finds %s right', async (script) => {
  const said = await ipptool(script);
  expect(said).toContain('[PASS]');
  expect(said).not.toContain('[FAIL]');
});

test('an independent client finds nothing wrong by the standard’s own tests', async () => {
  const said = await ipptool('ipp-1.1.test');
  const failed = said.split('\n').filter((line) => line.includes('[FAIL]'));
  expect(failed).toEqual([]);
  expect(said.split('\n').filter((line) => line.includes('[PASS]')).length).toBeGreaterThan(20);
}, 60_000);
