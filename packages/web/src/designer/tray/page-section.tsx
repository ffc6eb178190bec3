import {
  overflows,
  PAPERS,
  type PageSetup,
  type PaperChange,
  pageOfSet,
  paperEdit,
  paperSize,
  type Report,
  roomOf,
} from '@gaveta/core/internal';
import { useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Check, NumberBox } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesigner } from '../design/state.ts';
import { Section, Setting } from '../settings/setting.tsx';

const OPPOSITE = { top: 'bottom', bottom: 'top', left: 'right', right: 'left' } as const;

interface PageSectionProps {
  report: Report;
  /** 0-based place of the set of rows whose pages these are; the report's own when left out. */
  place?: number;
}

/** Paper, orientation and margins, drawn; and what becomes of the layout when they change. */
export const PageSection = ({ report, place = -1 }: PageSectionProps) => {
  const { t } = useTranslation();
  const { edit, attempt } = useDesigner.getState();
  const [wanted, setWanted] = useState<PageSetup | null>(null);
  const page = pageOfSet(report, place);
  const change = (next: PageSetup): void => {
    // Where everything still has its place there is nothing to ask.
    if (roomOf(next) === roomOf(page)) edit(t('edits.page'), paperEdit(report, next, 'leave', place));
    else setWanted(next);
  };
  const choose = (how: PaperChange): void => {
    edit(t('edits.page'), paperEdit(report, wanted!, how, place));
    setWanted(null);
  };
  const shown = wanted ?? page;
  const { width, height } = paperSize(shown);
  const scale = 84 / Math.max(width, height);
  const margin = (side: 'top' | 'right' | 'bottom' | 'left') => (
    <Setting key={side} label={t(`page.${side}`)}>
      <NumberBox
        label={t('page.margin', { side: t(`page.${side}`).toLowerCase() })}
        value={shown.margins[side]}
        // The other margin and a centimetre between them stay.
        most={Math.max(0, (side === 'left' || side === 'right' ? width : height) - shown.margins[OPPOSITE[side]] - 10)}
        onCommit={(value) => change({ ...shown, margins: { ...shown.margins, [side]: value } })}
      />
    </Setting>
  );
  return (
    <Section
      title={t('page.title')}
      section="page"
      more={
        <>
          {(['top', 'right', 'bottom', 'left'] as const).map(margin)}
          <Check
            label={t('page.continuous')}
            checked={page.continuous ?? false}
            onChange={(on) =>
              edit(t('edits.page'), paperEdit(report, { ...page, continuous: on || undefined }, 'leave', place))
            }
          />
        </>
      }
    >
      <div className="flex items-center gap-3">
        <div className="grid size-[92px] flex-none place-items-center rounded bg-desk/60">
          <div
            aria-hidden
            className="relative border border-rule bg-white shadow-sm"
            style={{ width: width * scale, height: height * scale }}
          >
            <div
              className="absolute border border-dashed border-brass"
              style={{
                left: shown.margins.left * scale,
                top: shown.margins.top * scale,
                right: shown.margins.right * scale,
                bottom: shown.margins.bottom * scale,
              }}
            />
          </div>
        </div>
        <div className="flex min-w-0 flex-1 flex-col gap-1">
          <Select
            label={t('page.paper')}
            value={shown.paper}
            choices={[...Object.keys(PAPERS), 'custom'].map((value) => ({
              value,
              label: value === 'custom' ? t('page.custom') : value,
            }))}
            onPick={(paper) => change({ ...shown, paper, ...(paper === 'custom' ? { width, height } : {}) })}
          />
          <Select
            label={t('page.orientation')}
            value={shown.orientation}
            choices={(['portrait', 'landscape'] as const).map((value) => ({ value, label: t(`page.${value}`) }))}
            onPick={(orientation) => change({ ...shown, orientation })}
          />
          <span className="text-[11.5px] text-ink-3">{t('page.size', { width, height })}</span>
        </div>
      </div>
      {shown.paper === 'custom' &&
        (['width', 'height'] as const).map((side) => (
          <Setting key={side} label={t(`designer.${side}`)}>
            <NumberBox
              label={t(`designer.${side}`)}
              least={10}
              value={shown[side]}
              onCommit={(value) => change({ ...shown, [side]: value })}
            />
          </Setting>
        ))}
      {wanted && (
        <fieldset aria-label={t('page.whatNow')} className="mt-2 rounded border border-brass bg-brass-soft/50 p-2">
          <p className="mb-1.5">{t(overflows(report, wanted, place) ? 'page.wouldOverflow' : 'page.whatNow')}</p>
          <div className="flex flex-col gap-1">
            {(['fit', 'scale', 'leave'] as const).map((how) => (
              <Button
                key={how}
                onPointerMove={() => useDesigner.getState().trial || attempt(paperEdit(report, wanted, how, place))}
                onPointerLeave={() => attempt(null)}
                onFocus={() => attempt(paperEdit(report, wanted, how, place))}
                onBlur={() => attempt(null)}
                onClick={() => choose(how)}
              >
                {t(`page.change_${how}`)}
              </Button>
            ))}
            <Button look="quiet" onClick={() => setWanted(null)}>
              {t('page.keep')}
            </Button>
          </div>
        </fieldset>
      )}
    </Section>
  );
};
