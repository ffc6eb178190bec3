import { type Report, reportSchema } from '@gaveta/core';

/** Title and page numbers of a new report. */
export const newReportFrame = (name: string) => ({
  gaveta: 1,
  name,
  header: {
    height: 14,
    items: [
      {
        kind: 'field',
        id: 'title1',
        x: 0,
        y: 0,
        width: 180,
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
});

/** A report of an entity's rows, with bands and nothing in them yet. */
export const blankReport = (name: string, model: string, entity: string): Report =>
  reportSchema.parse({
    ...newReportFrame(name),
    model,
    body: {
      id: 'rows',
      name: entity,
      rows: { entity },
      header: { height: 7, items: [] },
      detail: { height: 8, items: [] },
      footer: { height: 8, items: [] },
    },
  });
