import { type BandAddress, bandKey, findBand, findDrawer, lowestItem } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { agreed } from '../../ui/confirm.tsx';
import { currentModel, currentPlan } from '../design/model-of.ts';
import { useDesigner } from '../design/state.ts';
import { bandLabel, drawerLabel } from '../design/words.ts';
import { bandPlaces, putBand } from '../drawer/band-places.ts';
import { drawerActions } from '../drawer/drawer-actions.ts';

/** A command that is named after what it is done with. */
export interface NamedCommand {
  id: string;
  title: string;
  run: () => void;
}

/** What can be done with the selected band and its drawer; `all`: with every place that the band can go to. */
export const placeCommands = (t: TFunction, all: boolean): NamedCommand[] => {
  const { history, band: address, focus, selection } = useDesigner.getState();
  if (!history || (focus.kind === 'report' && selection.length === 0)) return [];
  const drawer = focus.kind === 'drawer' ? focus.drawer : (address?.drawer ?? null);
  return [
    ...(address && focus.kind === 'band' ? bandCommands(t, address, all) : []),
    ...(drawer === null ? [] : drawerCommands(t, drawer)),
  ];
};

/** Removes a band and what stands in it, after asking. */
export const askedToRemoveBand = async (t: TFunction, address: BandAddress): Promise<void> => {
  const { history, edit, focusOn } = useDesigner.getState();
  const band = history && findBand(history.report, address);
  if (!band) return;
  const drawer = address.drawer === null ? null : (findDrawer(history.report, address.drawer)?.drawer ?? null);
  const name = bandLabel(t, address, drawer);
  const asked = t('band.askRemove', { name, count: band.items.length });
  if (!(await agreed(asked, t('drawer.removeBand', { name })))) return;
  edit(t('edits.removeBand', { name }), { do: 'removeBand', band: address });
  focusOn({ kind: 'report' });
};

const bandCommands = (t: TFunction, address: BandAddress, all: boolean): NamedCommand[] => {
  const { history, edit, fold } = useDesigner.getState();
  const { report } = history!;
  const band = findBand(report, address);
  if (!band) return [];
  const drawer = address.drawer === null ? null : (findDrawer(report, address.drawer)?.drawer ?? null);
  const name = bandLabel(t, address, drawer);
  const settings = { height: lowestItem(band) };
  return [
    {
      id: 'band-fit',
      title: t('command.fitBandNamed', { name }),
      run: () => edit(t('edits.band'), { do: 'band', band: address, settings }),
    },
    { id: 'band-fold', title: t('drawer.foldBand', { name }), run: () => fold(bandKey(address)) },
    {
      id: 'band-remove',
      title: t('drawer.removeBand', { name }),
      run: () => edit(t('edits.removeBand', { name }), { do: 'removeBand', band: address }),
    },
    ...(all ? (['move', 'copy'] as const) : []).flatMap((how) =>
      bandPlaces(t, report).map(({ value, label, address: to }) => ({
        id: `band-${how}-${value}`,
        title: t(`command.${how}BandNamed`, { name, to: label }),
        run: () => putBand(t, how, address, to, name),
      })),
    ),
  ];
};

const drawerCommands = (t: TFunction, id: string): NamedCommand[] => {
  const { history, edit, fold, focusOn } = useDesigner.getState();
  const { report } = history!;
  const drawer = findDrawer(report, id)?.drawer;
  if (!drawer) return [];
  const name = drawerLabel(drawer);
  const actions = drawerActions(report, drawer, currentModel(report), currentPlan());
  return [
    { id: 'drawer-fold', title: t('command.foldDrawerNamed', { name }), run: () => fold(id) },
    ...actions.map(({ key, target, edit: made }) => {
      const title = t(`drawer.do_${key}`, { name, outer: target ? drawerLabel(target).toLowerCase() : '' });
      return {
        id: `drawer-${key}-${target?.id ?? ''}`,
        title,
        run: () => {
          edit(title, made());
          if (key === 'remove') focusOn({ kind: 'report' });
        },
      };
    }),
  ];
};
