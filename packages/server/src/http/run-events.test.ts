import { EventEmitter } from 'node:events';
import { createServer, get, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { type FollowedRun, RunEvents } from './run-events.ts';

/** A run that changes when the test says so. */
class Changing implements FollowedRun {
  readonly changes = new EventEmitter();
  hasEnded = false;
  readers = 0;
  pages = 0;

  hold(): () => void {
    this.readers++;
    return () => {
      this.readers--;
    };
  }

  change(pages: number, hasEnded = false): void {
    this.pages = pages;
    this.hasEnded = hasEnded;
    this.changes.emit('change');
  }
}

let run = new Changing();
let written = 0;
const events = new RunEvents((followed: Changing) => {
  written++;
  return String(followed.pages);
});
const app = express().get('/events', (_request, response) => events.follow(run, response));
const server = createServer(app).listen(0);
afterAll(() => server.close());
beforeEach(() => {
  run = new Changing();
  written = 0;
});

/** Follows the run; gives what was heard so far. */
const follow = async () => {
  const answer = await new Promise<IncomingMessage>((resolve) =>
    get({ port: (server.address() as AddressInfo).port, path: '/events' }, resolve),
  );
  const heard: string[] = [];
  answer.on('error', () => {}).on('data', (data: Buffer) => heard.push(...data.toString().match(/\d+/g)!));
  const ended = new Promise<void>((resolve) => answer.on('close', resolve));
  await expect.poll(() => heard.length).toBe(1);
  return { answer, heard, ended };
};

describe('those who follow a run', () => {
  it('hear how it stands, each change, and its end, each of which is written once for all', async () => {
    const all = [await follow(), await follow(), await follow()];
    expect(run.readers).toBe(3);
    written = 0;
    run.change(1);
    await expect.poll(() => all.map(({ heard }) => heard.length)).toEqual([2, 2, 2]);
    run.change(2, true);
    await Promise.all(all.map(({ ended }) => ended));
    expect(all.map(({ heard }) => heard)).toEqual(Array(3).fill(['0', '1', '2']));
    expect(written).toBe(2);
    await expect.poll(() => run.readers).toBe(0);
    expect([events.size, run.changes.listenerCount('change')]).toEqual([0, 0]);
  });

  it('may go away, and nothing of them stays', async () => {
    const [first, second] = [await follow(), await follow()];
    first.answer.destroy();
    await expect.poll(() => run.readers).toBe(1);
    run.change(1);
    await expect.poll(() => second.heard).toEqual(['0', '1']);
    second.answer.destroy();
    await expect.poll(() => [run.readers, events.size, run.changes.listenerCount('change')]).toEqual([0, 0, 0]);
  });

  it('that has ended already hear how, and it is not kept for them', async () => {
    run.change(7, true);
    const { heard, ended } = await follow();
    await ended;
    expect(heard).toEqual(['7']);
    expect([events.size, run.readers]).toEqual([0, 0]);
  });
});
