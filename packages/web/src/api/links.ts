import type { AnswerOf, BodySent } from '@gaveta/core/contract';
import { queryOptions } from '@tanstack/react-query';
import { call } from './client.ts';

export type SharedLink = AnswerOf<'GET /reports/:id/links'>[number];

/** Links by which people without an account read a report. */
export const links = {
  list: (id: string) => call('GET /reports/:id/links', { params: { id } }),
  add: (id: string, link: BodySent<'POST /reports/:id/links'>) =>
    call('POST /reports/:id/links', { params: { id }, body: link }),
  revoke: (id: string, link: string) => call('DELETE /reports/:id/links/:link', { params: { id, link } }),
};

export const linkQueries = {
  list: (id: string) => queryOptions({ queryKey: ['links', id], queryFn: () => links.list(id), staleTime: 0 }),
};
