import { type Field, type Report, reportSchema, shownFields } from '@gaveta/core';
import type { RecipeDraft } from '../api/client.ts';

/** Millimetres between the margins of a new report's page. */
const WIDTH = 180;
const GAP = 2;
/** Most columns that a page takes. */
const MOST = 10;

const weightOf = (field: Field): number =>
  field.type === 'text' ? 2 : field.type === 'datetime' ? 1.5 : field.type === 'boolean' ? 0.7 : 1;

/** A list with a column for each field of a shared recipe, ready to be changed. */
export const reportFromRecipe = (id: string, draft: RecipeDraft, fields: readonly Field[]): Report => {
  const columns = shownFields(fields)
    .filter((f) => f.type !== 'picture')
    .slice(0, MOST);
  const whole = columns.reduce((sum, f) => sum + weightOf(f), 0) || 1;
  let x = 0;
  const placed = columns.map((field) => {
    const width = ((WIDTH - GAP * (columns.length - 1)) * weightOf(field)) / whole;
    const at = x;
    x += width + GAP;
    return { field, x: Math.round(at * 10) / 10, width: Math.round(width * 10) / 10 };
  });
  const align = (field: Field) => (field.type === 'number' ? { align: 'right' as const } : {});
  return reportSchema.parse({
    gaveta: 1,
    name: draft.name,
    parameters: draft.parameters,
    queries: [{ name: 'rows', label: draft.name, recipe: id }],
    header: {
      height: 14,
      items: [
        {
          kind: 'field',
          id: 'title1',
          x: 0,
          y: 0,
          width: WIDTH,
          height: 9,
          formula: 'report.name',
          look: { font: 'Source Serif 4', size: 20, bold: true },
        },
      ],
    },
    pageFooter: {
      height: 8,
      items: [
        {
          kind: 'text',
          id: 'pages1',
          x: 100,
          y: 2,
          width: 80,
          height: 5,
          content: ['Page ', { formula: 'page.number' }, ' of ', { formula: 'page.count' }],
          look: { size: 9, align: 'right' },
        },
      ],
    },
    body: {
      id: 'rows',
      name: 'row',
      rows: { entity: 'rows' },
      header: {
        height: 7,
        everyPage: true,
        items: [
          ...placed.map(({ field, x: at, width }, i) => ({
            kind: 'text' as const,
            id: `caption${i + 1}`,
            x: at,
            y: 0.5,
            width,
            height: 5,
            content: [field.label],
            look: { size: 8.5, bold: true, color: '#55605f', ...align(field) },
          })),
          { kind: 'line' as const, id: 'line1', x: 0, y: 6.5, width: WIDTH, height: 0 },
        ],
      },
      detail: {
        height: 5.5,
        items: placed.map(({ field, x: at, width }, i) => ({
          kind: 'field' as const,
          id: `field${i + 1}`,
          x: at,
          y: 0.5,
          width,
          height: 5,
          formula: /^[\p{L}_][\p{L}\p{N}_]*$/u.test(field.name) ? field.name : `'${field.name}'`,
          look: { size: 9, ...align(field) },
        })),
      },
    },
  });
};
