import type { Thing } from '../api/library.ts';

/** What an entry is of: the id of a recipe, the name of a connection. */
export const keyOf = (id: string): string => id.replace(/^(?:recipe|connection):/, '');

/** Where a thing is opened, or what uses one. */
export const addressOf = ({ kind, id }: { kind: Thing['kind'] | 'delivery'; id: string }): string => {
  const key = encodeURIComponent(keyOf(id));
  switch (kind) {
    case 'report':
      return `/reports/${id}`;
    case 'sketch':
      return `/sketches/${id}`;
    case 'recipe':
      return `/data/recipes/${key}`;
    case 'connection':
      return `/data/connections/${key}`;
    case 'picture':
      return `/house/pictures/${id}`;
    case 'theme':
      return `/house/themes/${id}`;
    case 'delivery':
      return `/deliveries/${id}`;
    default:
      return kind satisfies never;
  }
};

/** Whether a thing has readers, who see its first page and what is published. */
export const isRun = ({ kind }: Pick<Thing, 'kind'>): boolean => kind === 'report' || kind === 'sketch';
