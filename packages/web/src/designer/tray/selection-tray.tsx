import { findDrawer, type Item, type Report } from '@gaveta/core/internal';
import { Search } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton, inputLook } from '../../ui/controls.tsx';
import { type Focus, selectedItems, useDesigner } from '../design/state.ts';
import { bandLabel, drawerBandLabel, drawerLabel, itemLabel } from '../design/words.ts';
import { roomOfKind } from '../items/rooms.ts';
import { chosenOf } from '../settings/item-context.ts';
import { SettingsSearch } from '../settings/setting.tsx';
import { BandSettings } from './band-settings.tsx';
import { ItemContent } from './content-settings.tsx';
import { DrawerSettings } from './drawer-settings.tsx';
import { ItemPaging } from './paging-settings.tsx';
import { ItemPlace } from './place-settings.tsx';
import { ReportSettings } from './report-settings.tsx';

/** What is selected, in the order in which people need it. */
export const SelectionTray = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const selection = useDesigner((s) => s.selection);
  const focus = useDesigner((s) => s.focus);
  const [search, setSearch] = useState<string | null>(null);
  const items = selectedItems(report, selection);
  return (
    <section aria-label={t('designer.selection')} className="flex min-h-0 flex-col border-t border-rule">
      <h2 className="flex h-8 flex-none items-center gap-2 px-3 text-[12px] font-semibold">
        {t('designer.selection')}
        <span className="ms-auto" />
        <IconButton
          label={t('designer.findSetting')}
          aria-pressed={search !== null}
          onClick={() => setSearch(search === null ? '' : null)}
        >
          <Search size={13} />
        </IconButton>
        <span
          aria-hidden
          className="h-[5px] w-[22px] flex-none rounded-b-[5px] border-[1.5px] border-t-0 border-brass"
        />
      </h2>
      <Trail report={report} items={items} focus={focus} />
      {search !== null && (
        <input
          type="search"
          // biome-ignore lint/a11y/noAutofocus: it was asked for just now
          autoFocus
          className={`${inputLook} mx-3 mb-1 max-w-[calc(100%-24px)] flex-none`}
          placeholder={t('designer.findSetting')}
          aria-label={t('designer.findSetting')}
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') setSearch(null);
          }}
        />
      )}
      <div className="min-h-0 flex-1 overflow-auto px-3 pb-3" data-testid="settings">
        <SettingsSearch.Provider value={(search ?? '').trim().toLowerCase()}>
          <Settings report={report} items={items} focus={focus} />
        </SettingsSearch.Provider>
      </div>
    </section>
  );
};

const Settings = ({ report, items, focus }: { report: Report; items: readonly Item[]; focus: Focus }) => {
  const { t } = useTranslation();
  const band = useDesigner((s) => s.band);
  if (items.length > 0 && band) {
    const chosen = chosenOf(t, report, items, band);
    const looks = new Set(items.map(({ kind }) => roomOfKind(kind).Look));
    const [Look] = looks.size === 1 ? looks : [];
    return (
      <div key={items[0]!.id}>
        <ItemContent chosen={chosen} />
        {Look && <Look chosen={chosen} />}
        <ItemPlace chosen={chosen} />
        <ItemPaging chosen={chosen} />
      </div>
    );
  }
  if (focus.kind === 'band') return <BandSettings report={report} address={focus.band} />;
  const drawer = focus.kind === 'drawer' ? findDrawer(report, focus.drawer)?.drawer : undefined;
  if (drawer) return <DrawerSettings key={drawer.id} report={report} drawer={drawer} />;
  return <ReportSettings report={report} />;
};

/** From the report inwards to what is selected; each step can be pressed. */
const Trail = ({ report, items, focus }: { report: Report; items: readonly Item[]; focus: Focus }) => {
  const { t } = useTranslation();
  const band = useDesigner((s) => s.band);
  const reportNames = useDesigner((s) => s.reportNames);
  const { focusOn } = useDesigner.getState();
  const steps: { key: string; label: string; to: Focus }[] = [
    { key: 'report', label: t('designer.report'), to: { kind: 'report' } },
  ];
  const at =
    focus.kind === 'drawer' ? focus.drawer : focus.kind === 'band' || items.length > 0 ? (band?.drawer ?? null) : null;
  const around: typeof steps = [];
  for (
    let found = at === null ? null : findDrawer(report, at);
    found;
    found = found.parent ? findDrawer(report, found.parent.id) : null
  )
    around.unshift({
      key: found.drawer.id,
      label: drawerLabel(found.drawer),
      to: { kind: 'drawer', drawer: found.drawer.id },
    });
  steps.push(...around);
  if (band && (focus.kind === 'band' || items.length > 0))
    steps.push({
      key: 'band',
      label: band.drawer === null ? bandLabel(t, band, null) : drawerBandLabel(t, band),
      to: { kind: 'band', band },
    });
  const [only] = items;
  const last =
    items.length === 1 && only
      ? itemLabel(t, only, reportNames)
      : items.length > 1
        ? t('designer.several', { count: items.length })
        : null;
  return (
    <nav
      aria-label={t('designer.trail')}
      className="flex flex-none flex-wrap items-center gap-x-0.5 px-2.5 pb-1 text-[11.5px]"
    >
      {steps.map((step, i) => (
        <span key={step.key} className="flex items-center">
          {i > 0 && <span className="px-0.5 text-ink-3">›</span>}
          <button
            type="button"
            aria-current={last === null && i === steps.length - 1 ? 'true' : undefined}
            className={`rounded px-0.5 hover:bg-desk/60 ${last === null && i === steps.length - 1 ? 'font-semibold' : 'text-ink-2'}`}
            onClick={() => focusOn(step.to)}
          >
            {step.label}
          </button>
        </span>
      ))}
      {last !== null && (
        <span className="flex min-w-0 items-center">
          <span className="px-0.5 text-ink-3">›</span>
          <span className="max-w-[190px] truncate font-semibold" data-testid="selected">
            {last}
          </span>
        </span>
      )}
    </nav>
  );
};
