import {
  type BandAddress,
  bandKey,
  copyBand,
  findDrawer,
  freeBands,
  moveBand,
  type Report,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { useDesigner } from '../design/state.ts';
import { bandLabel } from '../design/words.ts';

/** Where a band can be moved or copied to, as choices. */
export const bandPlaces = (t: TFunction, report: Report): { value: string; label: string; address: BandAddress }[] =>
  freeBands(report).map((address) => {
    const drawer = address.drawer === null ? null : (findDrawer(report, address.drawer)?.drawer ?? null);
    return { value: bandKey(address), label: bandLabel(t, address, drawer), address };
  });

/** Moves or copies a band, and selects it where it is then. */
export const putBand = (t: TFunction, how: 'move' | 'copy', from: BandAddress, to: BandAddress, name: string): void => {
  const { history, edit, focusOn } = useDesigner.getState();
  const made = history && (how === 'move' ? moveBand : copyBand)(history.report, from, to);
  if (!made) return;
  edit(t(`edits.${how}Band`, { name }), made);
  focusOn({ kind: 'band', band: to });
};
