import {
  type Item,
  isWords,
  type Look,
  type Report,
  type Style,
  styleLook,
  type WordsItem,
} from '../definition/schema.ts';
import { allBands } from '../definition/walk.ts';
import type { Edit } from './edit.ts';

const styled = (report: Report): WordsItem[] => [...allBands(report)].flatMap(({ band }) => band.items.filter(isWords));

const withStyles = (styles: Record<string, Style>): Edit => ({ do: 'report', settings: { styles } });

/** Items that have a style by its name. */
export const itemsOfStyle = (report: Report, name: string): string[] =>
  styled(report)
    .filter((item) => item.style === name)
    .map((item) => item.id);

/** A new style of the look that an item has; the item and the others of `ids` take it, and have no look besides. */
export const styleFrom = (report: Report, item: Item, ids: readonly string[], name: string): Edit => {
  const words = isWords(item) ? item : null;
  const look: Look = { ...styleLook(report.styles, words?.style), ...words?.look };
  return {
    do: 'all',
    edits: [
      withStyles({ ...report.styles, [name]: look }),
      { do: 'set', items: [...ids], settings: { style: name, look: null } },
    ],
  };
};

/** Changes a style; null frees a setting. */
export const changeStyle = (report: Report, name: string, change: { [K in keyof Style]: Style[K] | null }): Edit => {
  const next = Object.fromEntries(
    Object.entries({ ...report.styles[name], ...change }).filter(([, value]) => value !== null && value !== undefined),
  );
  return withStyles({ ...report.styles, [name]: next });
};

/** The style under another name, wherever it is named. */
export const renameStyle = (report: Report, from: string, to: string): Edit => {
  const styles = Object.entries(report.styles).map(([name, style]): [string, Style] => [
    name === from ? to : name,
    style.basedOn === from ? { ...style, basedOn: to } : style,
  ]);
  return {
    do: 'all',
    edits: [
      withStyles(Object.fromEntries(styles)),
      { do: 'set', items: itemsOfStyle(report, from), settings: { style: to } },
    ],
  };
};

/** Takes a style out. What had it, or was based on it, keeps its look. */
export const removeStyle = (report: Report, name: string): Edit => {
  const given = styleLook(report.styles, name);
  const { [name]: gone, ...others } = report.styles;
  const styles = Object.entries(others).map(([other, style]): [string, Style] => {
    if (style.basedOn !== name) return [other, style];
    const { basedOn: _, ...own } = style;
    return [other, { ...given, ...own }];
  });
  const keeping = styled(report)
    .filter((item) => item.style === name)
    .map(
      (item): Edit => ({ do: 'set', items: [item.id], settings: { style: null, look: { ...given, ...item.look } } }),
    );
  return gone ? { do: 'all', edits: [withStyles(Object.fromEntries(styles)), ...keeping] } : { do: 'all', edits: [] };
};
