import {
  type Band,
  type BandAddress,
  type BandFormulaSetting,
  findBand,
  findDrawer,
  isPageBand,
  lowestItem,
  mostBandHeight,
  type Report,
} from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { Check, NumberBox } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesigner } from '../design/state.ts';
import { bandLabel } from '../design/words.ts';
import { bandPlaces, putBand } from '../drawer/band-places.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { ByFormula, CheckByFormula, type FormulaHolder, quoted } from '../settings/by-formula.tsx';
import { HighlightRules } from '../settings/highlights.tsx';
import { Section, Setting } from '../settings/setting.tsx';

type Holder = FormulaHolder<BandFormulaSetting>;

/** Height, look and paging of a band. */
export const BandSettings = ({ report, address }: { report: Report; address: BandAddress }) => {
  const { t } = useTranslation();
  const { edit } = useDesigner.getState();
  const band = findBand(report, address);
  const drawer = address.drawer === null ? null : (findDrawer(report, address.drawer)?.drawer ?? null);
  const name = bandLabel(t, address, drawer);
  if (!band) {
    return (
      <Section title={name}>
        <p className="text-ink-3">{t('band.missing')}</p>
        <Button
          className="mt-1.5"
          onClick={() =>
            edit(t('edits.add', { what: name }), { do: 'addBand', band: address, as: { height: 8, items: [] } })
          }
        >
          {t('band.addIt')}
        </Button>
      </Section>
    );
  }
  const formulaEdit: Holder['formulaEdit'] = (name, formula) => {
    const { [name]: _, ...others } = band.formulas ?? {};
    const formulas = formula === null ? others : { ...others, [name]: formula };
    const settings = { formulas: Object.keys(formulas).length > 0 ? formulas : null };
    return { do: 'band', band: address, settings };
  };
  const holder: Holder = {
    address,
    formulaOf: (name) => band.formulas?.[name],
    setFormula: (name, formula) => edit(t('edits.formula'), formulaEdit(name, formula)),
    formulaEdit,
  };
  const set = (what: string, settings: Record<string, unknown>): void =>
    edit(t('edits.set', { what: what.toLowerCase() }), { do: 'band', band: address, settings });
  const isHeader = address.drawer !== null && address.band === 'header';
  const isFooter = /footer$/i.test(address.band) && !isPageBand(address.band);
  const places = bandPlaces(t, report);
  const flows = !isPageBand(address.band);
  return (
    <>
      <Section title={t('designer.place')} section="place">
        <ByFormula holder={holder} name="height" label={t('designer.bandHeight')} start={String(band.height)}>
          <NumberBox
            label={t('designer.bandHeight')}
            value={band.height}
            least={lowestItem(band)}
            most={Math.max(lowestItem(band), mostBandHeight(report, address))}
            onCommit={(height) => edit(t('edits.band'), { do: 'band', band: address, settings: { height } })}
          />
        </ByFormula>
        <button
          type="button"
          className="text-pine hover:underline"
          onClick={() => edit(t('edits.band'), { do: 'band', band: address, settings: { height: lowestItem(band) } })}
        >
          {t('drawer.fitBand')}
        </button>
      </Section>
      <Section
        title={t('designer.look')}
        section="look"
        more={
          <Setting label={t('look.highlights')} wide>
            <HighlightRules
              isBand
              address={address}
              highlights={band.highlights ?? []}
              onChange={(next) => set(t('look.highlights'), { highlights: next.length > 0 ? next : null })}
            />
          </Setting>
        }
      >
        <ByFormula
          holder={holder}
          name="background"
          label={t('look.background')}
          start={quoted(band.background ?? '#f3e6c8')}
        >
          <ColorBox
            label={t('look.background')}
            value={band.background}
            onPick={(background) => set(t('look.background'), { background })}
            onClear={() => set(t('look.background'), { background: null })}
          />
        </ByFormula>
        {drawer && address.band === 'detail' && (
          <Setting label={t('drawer.alternate')}>
            <ColorBox
              label={t('drawer.alternate')}
              value={drawer.alternate}
              onPick={(alternate) =>
                edit(t('edits.alternate'), { do: 'drawer', drawer: drawer.id, settings: { alternate } })
              }
              onClear={() =>
                edit(t('edits.alternate'), { do: 'drawer', drawer: drawer.id, settings: { alternate: null } })
              }
            />
          </Setting>
        )}
      </Section>
      <Section
        title={t('designer.paging')}
        section="paging"
        more={flows && <MorePaging band={band} address={address} set={set} />}
      >
        <Setting label={t('paging.showIf')} wide>
          <FormulaBox
            label={t('paging.showIf')}
            value={band.showIf ?? ''}
            address={address}
            isCondition
            placeholder={t('paging.always')}
            onCommit={(text) => set(t('paging.showIf'), { showIf: text.trim() === '' ? null : text })}
          />
        </Setting>
        {flows && (
          <Setting label={t('paging.newPage')}>
            <Select
              label={t('paging.newPage')}
              value={band.pageBreak ?? 'none'}
              choices={(['none', 'between', 'before', 'after'] as const).map((value) => ({
                value,
                label: t(`paging.break_${value}`),
              }))}
              onPick={(pageBreak) => set(t('paging.newPage'), { pageBreak: pageBreak === 'none' ? null : pageBreak })}
            />
          </Setting>
        )}
        {isHeader && (
          <Check
            label={t('paging.everyPage')}
            checked={band.everyPage ?? false}
            onChange={(on) => set(t('paging.everyPage'), { everyPage: on || null })}
          />
        )}
        {isFooter && (
          <Check
            label={t('paging.atBottom')}
            checked={band.atBottom ?? false}
            onChange={(on) => set(t('paging.atBottom'), { atBottom: on || null })}
          />
        )}
        {flows && (
          <CheckByFormula
            holder={holder}
            name="keepWhole"
            label={t('paging.keepWhole')}
            checked={band.keepWhole ?? true}
            onChange={(on) => set(t('paging.keepWhole'), { keepWhole: on ? null : false })}
          />
        )}
        <Check
          label={t('paging.leaveOutEmpty')}
          checked={band.leaveOutEmpty ?? false}
          onChange={(on) => set(t('paging.leaveOutEmpty'), { leaveOutEmpty: on || null })}
        />
      </Section>
      <Section title={t('band.arrange')}>
        <span className="flex flex-wrap gap-x-2">
          {(['move', 'copy'] as const).map((how) => (
            <Pick
              key={how}
              label={t(`band.${how}To`)}
              choices={places}
              onPick={(key) => putBand(t, how, address, places.find((p) => p.value === key)!.address, name)}
            />
          ))}
          <button
            type="button"
            className="rounded px-1 text-rust hover:bg-rust-soft"
            onClick={() => edit(t('edits.removeBand', { name }), { do: 'removeBand', band: address })}
          >
            {t('drawer.removeBand', { name })}
          </button>
        </span>
      </Section>
    </>
  );
};

interface MoreProps {
  band: Band;
  address: BandAddress;
  set: (what: string, settings: Record<string, unknown>) => void;
}

const MorePaging = ({ band, address, set }: MoreProps) => {
  const { t } = useTranslation();
  return (
    <>
      {band.pageBreak && band.pageBreak !== 'none' && (
        <>
          <Setting label={t('paging.breakIf')} wide>
            <FormulaBox
              label={t('paging.breakIf')}
              value={band.breakIf ?? ''}
              address={address}
              placeholder={t('paging.always')}
              onCommit={(text) => set(t('paging.breakIf'), { breakIf: text.trim() === '' ? null : text })}
            />
          </Setting>
          <Setting label={t('paging.breakTo')}>
            <Select
              label={t('paging.breakTo')}
              value={band.breakTo ?? 'any'}
              choices={(['any', 'odd', 'even'] as const).map((value) => ({ value, label: t(`paging.to_${value}`) }))}
              onPick={(to) => set(t('paging.breakTo'), { breakTo: to === 'any' ? null : to })}
            />
          </Setting>
          <Check
            label={t('paging.restartPages')}
            checked={band.restartPages ?? false}
            onChange={(on) => set(t('paging.restartPages'), { restartPages: on || null })}
          />
        </>
      )}
      {address.band === 'header' && (
        <Setting label={t('paging.keepWith')}>
          <NumberBox
            label={t('paging.keepWith')}
            unit={t('drawer.rows')}
            most={100}
            value={band.keepWith ?? 1}
            onCommit={(count) => set(t('paging.keepWith'), { keepWith: Math.round(count) })}
          />
        </Setting>
      )}
      {isBelowRows(address) && (
        <Check
          label={t('paging.keepWithRows')}
          checked={band.keepWith !== 0}
          onChange={(on) => set(t('paging.keepWithRows'), { keepWith: on ? null : 0 })}
        />
      )}
    </>
  );
};

/** Whether a band comes after rows, with the last of which it is kept. */
const isBelowRows = ({ band }: BandAddress): boolean =>
  band === 'footer' || band === 'detailFooter' || band === 'others';
