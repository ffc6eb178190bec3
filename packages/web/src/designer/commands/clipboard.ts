import {
  allBands,
  type BandAddress,
  clipOf,
  dressed,
  findBand,
  findItem,
  freshId,
  type Item,
  nextPlace,
  pasteClip,
  pasteLook,
  type Report,
  readClip,
  roomIn,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { readPicture } from '../../ui/picture-file.ts';
import { removeSelected, useDesigner } from '../design/state.ts';
import { pointerInReport } from '../design/surfaces.ts';

/** What was copied last, for pasting without the system's clipboard. */
let held = '';

/** Copies the selected items; gives their text for the system's clipboard, null when nothing is selected. */
export const copySelected = (): string | null => {
  const { history, selection } = useDesigner.getState();
  const clip = history && clipOf(history.report, selection);
  if (!clip) return null;
  held = JSON.stringify(clip);
  void navigator.clipboard?.writeText(held).catch(() => undefined);
  return held;
};

export const cutSelected = (t: TFunction): string | null => {
  const text = copySelected();
  if (text !== null) removeSelected(t('edits.cut'));
  return text;
};

const targetOf = (report: Report): BandAddress | null => {
  const { band } = useDesigner.getState();
  if (band && findBand(report, band)) return band;
  const [first] = report.body;
  return first?.detail ? { drawer: first.id, band: 'detail' } : null;
};

/** Pastes copied items, or any other text as a text item, into the selected band. */
export const pasteText = (t: TFunction, text: string = held): void => {
  const { history, edit, select } = useDesigner.getState();
  const target = history && targetOf(history.report);
  if (!history || !target || text.trim() === '') return;
  const clip = readClip(text);
  if (clip) {
    const { edit: made, ids } = pasteClip(history.report, clip, target);
    edit(t('edits.paste'), made);
    select(ids);
    return;
  }
  const lines = text.trim().slice(0, 20_000);
  put(t, history.report, target, {
    kind: 'text',
    width: 60,
    height: 5,
    content: [lines],
    ...dressed(history.report, 'value'),
  });
};

const put = (t: TFunction, report: Report, target: BandAddress, item: Record<string, unknown>): void => {
  const { edit, select } = useDesigner.getState();
  const id = freshId(report, String(item.kind));
  const at = nextPlace(findBand(report, target)!, roomIn(report, target), Number(item.width));
  edit(t('edits.paste'), { do: 'add', band: target, items: [{ ...item, id, x: at.x, y: at.y } as Item] });
  select([id]);
};

/** Puts a picture from the clipboard or a dropped file onto the board; says what is wrong with it otherwise. */
export const placePicture = async (t: TFunction, file: File, at?: { x: number; y: number }): Promise<string | null> => {
  const { history, edit, select } = useDesigner.getState();
  if (!history) return null;
  const read = await readPicture(t, file);
  if ('problem' in read) return read.problem;
  const { report } = useDesigner.getState().history!;
  const point = at ? pointerInReport() : null;
  const target = point?.address ?? targetOf(report);
  if (!target) return t('picture.noBand');
  const width = 40;
  const height = Math.max(4, Math.round(((width * read.height) / read.width) * 10) / 10);
  const id = freshId(report, 'picture');
  const place = point ?? nextPlace(findBand(report, target)!, roomIn(report, target), width);
  const picture: Item = {
    kind: 'picture',
    id,
    x: place.x,
    y: place.y,
    width,
    height,
    source: read.source,
    fit: 'whole',
    alternative: file.name.replace(/\.[^.]*$/, ''),
  };
  edit(t('edits.add', { what: t('kinds.picture') }), { do: 'add', band: target, items: [picture] });
  select([id]);
  return null;
};

/** Gives the selected items the look of the item that was copied last. */
export const pasteLookOnSelected = (t: TFunction): void => {
  const { history, selection, edit } = useDesigner.getState();
  const clip = readClip(held);
  const from = clip?.items[0];
  if (!history || !from) return;
  edit(t('edits.pasteLook'), pasteLook(history.report, { ...from, id: '' }, selection));
};

/** All items of the kind of the selected ones: in their band, or in the whole report. */
export const selectAlike = (everywhere: boolean): void => {
  const { history, selection, select, band } = useDesigner.getState();
  const first = history && selection[0] !== undefined ? findItem(history.report, selection[0]) : null;
  if (!history || !first || !band) return;
  const kinds = new Set(selection.map((id) => findItem(history.report, id)?.item.kind));
  const bands = everywhere ? [...allBands(history.report)].map((b) => b.band) : [first.at.band];
  select(bands.flatMap((b) => b.items.filter((i) => kinds.has(i.kind)).map((i) => i.id)));
};
