import { allBands } from '@gaveta/core/internal';
import { useEffect } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { formulasOf, labelWords, useBoardWords } from '../design/board-words.ts';
import type { Design } from '../design/context.ts';

/** How long the board waits after an edit until it asks for values, in milliseconds. */
const PAUSE = 250;

/** Keeps what fields show on the board: labels as soon as the report changes, values once they are worked out. */
export const useKeptBoardWords = ({ report, model, entities, live: { probe } }: Design): void => {
  const { t } = useTranslation();
  const shows = useBoardWords((s) => s.shows);
  const row = useBoardWords((s) => s.row);
  // Another report has items of its own under the same names.
  useEffect(() => () => useBoardWords.setState({ words: {}, row: 0, rows: 0 }), []);
  useEffect(() => {
    if (shows === 'formula') useBoardWords.setState({ words: {}, rows: 0 });
    if (shows === 'label') useBoardWords.setState({ words: labelWords({ t, report, model, entities }), rows: 0 });
  }, [shows, t, report, model, entities]);
  useEffect(() => {
    if (shows !== 'value') return;
    let isOver = false;
    const timer = setTimeout(async () => {
      const words: Record<string, readonly string[]> = {};
      let rows = 0;
      // One after the other: the live page comes first.
      for (const { band, address } of allBands(report)) {
        const asked = band.items.flatMap((item) => formulasOf(item).map((probed) => ({ item, probed })));
        if (asked.length === 0) continue;
        const { values } = await probe(
          report,
          address,
          asked.map(({ probed }) => probed),
        );
        if (isOver) return;
        for (const [i, { item }] of asked.entries()) {
          const list = values[i] ?? [];
          rows = Math.max(rows, list.length);
          words[item.id] = [...(words[item.id] ?? []), list[Math.min(row, list.length - 1)] ?? ''];
        }
      }
      useBoardWords.setState({ words, rows });
    }, PAUSE);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [shows, row, report, probe]);
};
