const field = (id: string, formula: string, y: number) => ({
  kind: 'field',
  id,
  formula,
  x: 0,
  y,
  width: 120,
  height: 5,
});

/** A report of so many pages: a charge on each, which its words repeat in 24 lines, and the page's number at the foot. */
export const manyPages = (pages: number) => ({
  gaveta: 2,
  name: `Charges, ${pages} pages`,
  model: 'cumeeira',
  pageFooter: { height: 8, items: [field('page', '"Page " & page.number & " of " & page.count', 1)] },
  body: [
    {
      id: 'charges',
      name: 'charge',
      rows: { entity: 'charge' },
      first: pages,
      detail: {
        height: 220,
        pageBreak: 'between',
        items: Array.from({ length: 24 }, (_, i) =>
          field(`f${i}`, 'kind & ", " & stay.hut.name & ", " & stay.member.name & ", " & amount', i * 9),
        ),
      },
    },
  ],
});
