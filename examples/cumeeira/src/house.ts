import type { OwnTheme } from '@gaveta/server';

/** How reports of the association look, with its letterhead on the first page. */
export const houseTheme: OwnTheme = {
  name: 'Cumeeira',
  font: 'Source Sans 3',
  titleFont: 'Source Serif 4',
  accent: '#2f4b6e',
  quiet: '#66717d',
  title: { size: 22 },
  caption: { bold: true, color: '#2f4b6e' },
  rule: '#2f4b6e',
  alternate: '#f3f6f9',
  palette: ['#2f4b6e', '#c98a2d', '#6f9a8d', '#8c5a3c', '#a9bacd', '#5b6470'],
  styles: { Letterhead: { font: 'Source Serif 4', size: 11, bold: true, color: '#2f4b6e' } },
  furniture: {
    firstPageHeader: {
      height: 14,
      items: [
        {
          kind: 'text',
          id: 'house',
          x: 0,
          y: 0,
          width: 110,
          height: 6,
          content: ['Cumeeira · association of mountain huts'],
          style: 'Letterhead',
        },
        { kind: 'line', id: 'rule', x: 0, y: 8, width: 180, height: 0, color: '#2f4b6e', thickness: 0.4 },
      ],
    },
  },
};

/** How letters to guests look: a theme of the library, with the mark from there at the top of the first page. */
export const lettersTheme: OwnTheme = {
  name: 'Letters to guests',
  font: 'Source Serif 4',
  accent: '#7a5410',
  quiet: '#7d6f57',
  caption: { italic: true, color: '#7a5410' },
  captionBand: '#f8f0dd',
  rule: '#b98524',
  furniture: {
    firstPageHeader: {
      height: 24,
      items: [
        {
          kind: 'picture',
          id: 'mark',
          fromLibrary: 'mark',
          x: 0,
          y: 0,
          width: 26,
          height: 18,
          alternative: 'Cumeeira',
        },
        {
          ...{ kind: 'text', id: 'sender', x: 30, y: 4, width: 120, height: 6, style: 'Note' },
          content: ['Cumeeira · association of mountain huts'],
        },
      ],
    },
  },
};
