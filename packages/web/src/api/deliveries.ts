import type { AnswerOf } from '@gaveta/core/contract';
import type { Delivery } from '@gaveta/core/internal';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { call } from './client.ts';

export type DeliverySummary = AnswerOf<'GET /deliveries'>[number];
export type WholeDelivery = AnswerOf<'GET /deliveries/:id'>;
export type DeliveryRun = AnswerOf<'GET /deliveries/:id/runs'>[number];
export type DeliveryRunParts = AnswerOf<'GET /delivery-runs/:id'>;
export type DeliveryTargets = AnswerOf<'GET /delivery-targets'>;
export type DeliveryCheck = AnswerOf<'POST /deliveries/check'>;
export type KeptResult = AnswerOf<'GET /kept'>[number];
export type OutboxMail = AnswerOf<'GET /outbox'>[number];

/** Milliseconds between two looks at what is under way. */
const SOON = 700;

const isOpen = (run: { state: string } | null | undefined): boolean =>
  run?.state === 'waiting' || run?.state === 'working';

/** Calls about reports that come by themselves. */
export const deliveries = {
  create: (definition: Delivery) => call('POST /deliveries', { body: { definition: { ...definition } } }),
  save: (id: string, definition: Delivery, base: number) =>
    call('PUT /deliveries/:id', { params: { id }, body: { definition: { ...definition }, base } }),
  remove: (id: string) => call('DELETE /deliveries/:id', { params: { id } }),
  setState: (id: string, state: 'on' | 'paused') =>
    call('PUT /deliveries/:id/state', { params: { id }, body: { state } }),
  run: (id: string) => call('POST /deliveries/:id/runs', { params: { id } }),
  again: (run: string) => call('POST /delivery-runs/:id/again', { params: { id: run } }),
  cancel: (run: string) => call('DELETE /delivery-runs/:id', { params: { id: run } }),
  removeKept: (id: string) => call('DELETE /kept/:id', { params: { id } }),
  keptPages: (id: string, from: number, count: number) =>
    call('GET /kept/:id/pages', { params: { id }, query: { from, count } }),
  emptyOutbox: () => call('DELETE /outbox', {}),
};

export const deliveryQueries = {
  list: (report?: string) =>
    queryOptions({
      queryKey: ['deliveries', report ?? null],
      queryFn: () => call('GET /deliveries', { query: report === undefined ? {} : { report } }),
      refetchInterval: ({ state }) => (state.data?.some(({ last }) => isOpen(last)) ? SOON : false),
      staleTime: 0,
    }),
  one: (id: string) =>
    queryOptions({
      queryKey: ['delivery', id],
      queryFn: () => call('GET /deliveries/:id', { params: { id } }),
      refetchInterval: ({ state }) => (isOpen(state.data?.last) ? SOON : false),
      staleTime: 0,
    }),
  runs: (id: string) =>
    queryOptions({
      queryKey: ['delivery-runs', id],
      queryFn: () => call('GET /deliveries/:id/runs', { params: { id }, query: { count: 50 } }),
      refetchInterval: ({ state }) => (state.data?.some(isOpen) ? SOON : false),
      staleTime: 0,
    }),
  run: (id: string, from: number) =>
    queryOptions({
      queryKey: ['delivery-run', id, from],
      queryFn: () => call('GET /delivery-runs/:id', { params: { id }, query: { from, count: 50 } }),
      refetchInterval: ({ state }) => (isOpen(state.data) ? SOON : false),
      placeholderData: keepPreviousData,
      staleTime: 0,
    }),
  targets: () => queryOptions({ queryKey: ['delivery-targets'], queryFn: () => call('GET /delivery-targets', {}) }),
  check: (definition: Delivery) =>
    queryOptions({
      queryKey: ['delivery-check', definition],
      queryFn: ({ signal }) => call('POST /deliveries/check', { body: { definition: { ...definition } }, signal }),
      placeholderData: keepPreviousData,
      retry: false,
      gcTime: 60_000,
    }),
  kept: (of: { report?: string; delivery?: string } = {}) =>
    queryOptions({
      queryKey: ['kept', of],
      queryFn: () => call('GET /kept', { query: { ...of, count: 100 } }),
      staleTime: 0,
    }),
  keptOne: (id: string) =>
    queryOptions({ queryKey: ['kept-one', id], queryFn: () => call('GET /kept/:id', { params: { id } }) }),
  outbox: () =>
    queryOptions({ queryKey: ['outbox'], queryFn: () => call('GET /outbox', {}), refetchInterval: 2000, staleTime: 0 }),
  mail: (id: string) =>
    queryOptions({ queryKey: ['mail', id], queryFn: () => call('GET /outbox/:id', { params: { id } }) }),
  tray: () =>
    queryOptions({
      queryKey: ['tray'],
      queryFn: () => call('GET /printer-tray', {}),
      refetchInterval: 2000,
      staleTime: 0,
    }),
};
