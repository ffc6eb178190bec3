/** A text where it stands, in any unit of length. */
export interface PlacedText {
  /** Texts of different pages, or of different places in a document, do not stand on one line. */
  page: number;
  x: number;
  /** Of the baseline. */
  y: number;
  width: number;
  size: number;
  text: string;
}

/** How far apart baselines of one line are at most, as a share of the size. */
const SAME_LINE = 0.35;

/** How far apart two parts of one text are at most, as a share of the size: they are joined without a gap. */
const SAME_TEXT = 0.3;

/** Texts line by line, from top to bottom, those of one line from left to right; parts of one text are one. */
export const linesOf = (texts: readonly PlacedText[]): PlacedText[][] => {
  const ordered = [...texts].sort((a, b) => a.page - b.page || a.y - b.y || a.x - b.x);
  const lines: PlacedText[][] = [];
  for (const text of ordered) {
    const line = lines.at(-1);
    const [first] = line ?? [];
    const isSame =
      first && first.page === text.page && Math.abs(first.y - text.y) <= SAME_LINE * Math.min(first.size, text.size);
    if (line && isSame) line.push(text);
    else lines.push([text]);
  }
  return lines.map((line) => {
    const joined: PlacedText[] = [];
    for (const text of line.sort((a, b) => a.x - b.x)) {
      const last = joined.at(-1);
      const gap = last ? text.x - (last.x + last.width) : Number.POSITIVE_INFINITY;
      if (!last || Math.abs(gap) > SAME_TEXT * text.size) joined.push({ ...text });
      else {
        last.text += text.text;
        last.width = text.x + text.width - last.x;
      }
    }
    return joined;
  });
};

interface Stretch {
  from: number;
  to: number;
}

/** Where columns stand: stretches that texts of lines with several of them share. */
const columnsOf = (lines: readonly (readonly PlacedText[])[]): Stretch[] => {
  const stretches = lines
    .filter((line) => line.length > 1)
    .flatMap((line) => line.map(({ x, width }) => ({ from: x, to: x + width })))
    .sort((a, b) => a.from - b.from);
  const columns: Stretch[] = [];
  for (const { from, to } of stretches) {
    const last = columns.at(-1);
    if (last && from < last.to) last.to = Math.max(last.to, to);
    else columns.push({ from, to });
  }
  return columns;
};

/** Texts as the cells of a table, row by row: what stands in one column is in one place. A single column: lines of text. */
export const cellsOf = (texts: readonly PlacedText[]): string[][] => {
  const lines = linesOf(texts);
  const columns = columnsOf(lines);
  if (columns.length < 2) return lines.map((line) => [line.map(({ text }) => text.trim()).join(' ')]);
  return lines.map((line) => {
    const cells: string[] = columns.map(() => '');
    for (const { x, width, text } of line) {
      const middle = x + width / 2;
      const inside = columns.findIndex(({ from, to }) => middle >= from && middle <= to);
      const place =
        inside >= 0 && line.length > 1
          ? inside
          : Math.max(
              0,
              columns.findIndex(({ to }) => x < to),
            );
      cells[place] = cells[place] === '' ? text.trim() : `${cells[place]} ${text.trim()}`;
    }
    return cells;
  });
};

/** What a spreadsheet takes as cells: nothing inside one may end it. */
const plainCell = (text: string): string => text.replace(/[\t\r\n]+/g, ' ');

export const asPlainText = (cells: readonly (readonly string[])[]): string =>
  cells.map((row) => row.map(plainCell).join('\t').replace(/\t+$/, '')).join('\n');

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

export const asHtml = (cells: readonly (readonly string[])[]): string =>
  `<table>${cells.map((row) => `<tr>${row.map((cell) => `<td>${escaped(cell)}</td>`).join('')}</tr>`).join('')}</table>`;
