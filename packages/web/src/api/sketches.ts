import type { AnswerOf, BodySent } from '@gaveta/core/contract';
import type { Sketch } from '@gaveta/core/internal';
import { queryOptions } from '@tanstack/react-query';
import { call } from './client.ts';

/** A sketch as somebody asks it: as it is, or a stored one in the way of its reader. */
export type AskedSketch = BodySent<'POST /sketch/lines'>['of'];
export type FieldSpread = NonNullable<AnswerOf<'POST /sketch/values'>['found']>;

/** Calls about sketches. They stand apart from the others, which every screen fetches. */
export const sketches = {
  stored: (id: string) => call('GET /sketches/:id', { params: { id } }),
  create: (sketch: Sketch, where: { folder?: string; note?: string } = {}) =>
    call('POST /sketches', { body: { sketch, ...where } }),
  save: (id: string, sketch: Sketch, base: number, note = '') =>
    call('PUT /sketches/:id', { params: { id }, body: { sketch, base, note } }),
  /** Null when nothing is kept under the key. */
  draft: (key: string) => call('GET /sketches/:id/draft', { params: { id: key } }),
  putDraft: (key: string, sketch: Sketch, base: number) =>
    call('PUT /sketches/:id/draft', { params: { id: key }, body: { sketch, base } }),
  lines: (asked: BodySent<'POST /sketch/lines'>, signal: AbortSignal) =>
    call('POST /sketch/lines', { body: asked, signal }),
  values: (asked: BodySent<'POST /sketch/values'>, signal: AbortSignal) =>
    call('POST /sketch/values', { body: asked, signal }),
};

/** The same, each answer under its key. */
export const sketchQueries = {
  stored: (id: string) => queryOptions({ queryKey: ['sketch', id], queryFn: () => sketches.stored(id) }),
  draft: (key: string) =>
    queryOptions({ queryKey: ['sketch-draft', key], queryFn: () => sketches.draft(key), staleTime: 0, gcTime: 0 }),
  /** What a field of a sketch’s rows holds, or one of its columns in each row. */
  values: (of: AskedSketch, about: { field: string } | { column: string }, search = '') =>
    queryOptions({
      queryKey: ['sketch-values', of, about, search],
      queryFn: ({ signal }) => sketches.values({ of, ...about, search }, signal),
      staleTime: 30_000,
      gcTime: 60_000,
    }),
  /** The lines that the chart of a sketch is drawn from. */
  chart: (of: AskedSketch, levels: number, question: string) =>
    queryOptions({
      queryKey: ['sketch-chart', question, levels],
      queryFn: ({ signal }) =>
        sketches.lines(
          { of, part: 'chart', windows: [{ at: [], levels, counted: false, from: 0, most: 500 }], end: 'no' },
          signal,
        ),
      staleTime: 60_000,
      gcTime: 60_000,
    }),
};
