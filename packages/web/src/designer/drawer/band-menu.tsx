import {
  type BandAddress,
  bandKey,
  type Drawer,
  findBand,
  findDrawer,
  lowestItem,
  type Report,
} from '@gaveta/core/internal';
import { ChevronRight } from 'lucide-react';
import { ContextMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { useDesign } from '../design/context.ts';
import { useDesigner } from '../design/state.ts';
import { drawerLabel } from '../design/words.ts';
import { bandPlaces, putBand } from './band-places.ts';
import { drawerActions } from './drawer-actions.ts';

/** What can be done with a band and its drawer, besides changing its height. */
export const BandMenu = ({ address, name }: { address: BandAddress; name: string }) => (
  <ContextMenu.Portal>
    <ContextMenu.Content className="menu z-60" aria-label={name}>
      <BandEntries address={address} name={name} />
    </ContextMenu.Content>
  </ContextMenu.Portal>
);

const BandEntries = ({ address, name }: { address: BandAddress; name: string }) => {
  const { t } = useTranslation();
  const { report } = useDesign();
  const drawer = address.drawer === null ? null : (findDrawer(report, address.drawer)?.drawer ?? null);
  const band = findBand(report, address);
  const { edit, fold } = useDesigner.getState();
  return (
    <>
      <Entry onSelect={() => fold(bandKey(address))}>{t('drawer.foldBand', { name })}</Entry>
      <Entry
        onSelect={() =>
          band && edit(t('edits.band'), { do: 'band', band: address, settings: { height: lowestItem(band) } })
        }
      >
        {t('drawer.fitBand')}
      </Entry>
      <Entry onSelect={() => edit(t('edits.removeBand', { name }), { do: 'removeBand', band: address })}>
        {t('drawer.removeBand', { name })}
      </Entry>
      {(['move', 'copy'] as const).map((how) => (
        <ContextMenu.Sub key={how}>
          <ContextMenu.SubTrigger className="menu-item flex items-center">
            {t(`band.${how}To`)} <ChevronRight size={12} aria-hidden className="ms-auto" />
          </ContextMenu.SubTrigger>
          <ContextMenu.Portal>
            <ContextMenu.SubContent className="menu z-60 max-h-72 overflow-auto">
              {bandPlaces(t, report).map(({ value, label, address: to }) => (
                <Entry key={value} onSelect={() => putBand(t, how, address, to, name)}>
                  {label}
                </Entry>
              ))}
            </ContextMenu.SubContent>
          </ContextMenu.Portal>
        </ContextMenu.Sub>
      ))}
      {drawer && <DrawerEntries report={report} drawer={drawer} />}
    </>
  );
};

const DrawerEntries = ({ report, drawer }: { report: Report; drawer: Drawer }) => {
  const { t } = useTranslation();
  const { model, plan } = useDesign();
  const { edit, fold, focusOn } = useDesigner.getState();
  const name = drawerLabel(drawer);
  return (
    <>
      <ContextMenu.Separator className="my-1 h-px bg-rule-soft" />
      <ContextMenu.Label className="px-2.5 py-1 text-[11px] font-semibold text-ink-3">{name}</ContextMenu.Label>
      <Entry onSelect={() => fold(drawer.id)}>{t('drawer.foldDrawer')}</Entry>
      {drawerActions(report, drawer, model, plan).map(({ key, target, edit: made }) => {
        const words = t(`drawer.do_${key}`, { name, outer: target ? drawerLabel(target).toLowerCase() : '' });
        return (
          <Entry
            key={`${key}${target?.id ?? ''}`}
            onSelect={() => {
              edit(words, made());
              if (key === 'remove') focusOn({ kind: 'report' });
            }}
          >
            {words}
          </Entry>
        );
      })}
    </>
  );
};

const Entry = ({ onSelect, children }: { onSelect: () => void; children: ReactNode }) => (
  <ContextMenu.Item className="menu-item" onSelect={onSelect}>
    {children}
  </ContextMenu.Item>
);
