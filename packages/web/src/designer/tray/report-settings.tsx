import {
  overflows,
  PAPERS,
  type PageSetup,
  type PaperChange,
  paperEdit,
  paperSize,
  type Report,
  roomOf,
  THEMES,
  themeEdit,
} from '@gaveta/core/internal';
import { useState } from 'react';
import { useTranslation } from 'react-i18next';
import { ParameterForm } from '../../data/parameter-form.tsx';
import { Check, CommitBox, NumberBox } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { Select } from '../../ui/select.tsx';
import { useRename } from '../design/renaming.ts';
import { useDesigner } from '../design/state.ts';
import { QueriesSection } from '../queries/queries-section.tsx';
import { Section, Setting } from '../settings/setting.tsx';
import { StyleSection } from './style-section.tsx';

const LANGUAGES = ['en', 'pt-PT', 'es', 'fr', 'de', 'it', 'sv', 'ar'] as const;

/** Name, theme, page, parameters and language of the whole report. */
export const ReportSettings = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { edit } = useDesigner.getState();
  const rename = useRename();
  const set = (what: string, settings: Record<string, unknown>): void =>
    edit(t('edits.set', { what: what.toLowerCase() }), { do: 'report', settings });
  return (
    <>
      <p className="mt-1 text-ink-3">{t('designer.nothing')}</p>
      <Section title={t('designer.report')} section="content">
        <Setting label={t('designer.reportName')}>
          <CommitBox
            label={t('designer.reportName')}
            value={report.name}
            onCommit={(value) => value.trim() && set(t('designer.reportName'), { name: value.trim() })}
          />
        </Setting>
        <Setting label={t('report.description')}>
          <CommitBox
            label={t('report.description')}
            value={report.description ?? ''}
            onCommit={(value) => set(t('report.description'), { description: value.trim() || null })}
          />
        </Setting>
        <Setting label={t('report.language')}>
          <Select
            label={t('report.language')}
            value={report.language}
            choices={LANGUAGES.map((value) => ({ value, label: languageName(value) }))}
            onPick={(language) => set(t('report.language'), { language })}
          />
        </Setting>
        <Setting label={t('report.timeZone')}>
          <CommitBox
            label={t('report.timeZone')}
            value={report.timeZone}
            onCommit={(timeZone) => timeZone.trim() && set(t('report.timeZone'), { timeZone: timeZone.trim() })}
          />
        </Setting>
      </Section>
      <ThemeSection report={report} />
      <StyleSection report={report} />
      <PageSection report={report} />
      <QueriesSection report={report} />
      <div data-section="parameters" className="pb-2">
        <ParameterForm
          parameters={report.parameters}
          onChange={(parameters) => edit(t('edits.parameter'), { do: 'report', settings: { parameters } })}
          canAdd
          onRename={(name, to) => rename({ kind: 'parameter', name }, to)}
        />
      </div>
    </>
  );
};

const languageName = (tag: string): string => {
  try {
    return new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag;
  } catch {
    return tag;
  }
};

/** Looks for the whole report, tried on the live page while the pointer or the keyboard is on them. */
const ThemeSection = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { edit, attempt } = useDesigner.getState();
  return (
    <Section title={t('report.theme')} section="theme">
      <div className="grid grid-cols-2 gap-1.5">
        {THEMES.map((theme) => {
          const { title, caption, value } = theme.styles;
          const isOn = report.theme === theme.name;
          const made = () => themeEdit(report, theme);
          return (
            <button
              key={theme.name}
              type="button"
              aria-pressed={isOn}
              data-theme-choice={theme.name}
              className={`overflow-hidden rounded border bg-white p-1.5 text-left leading-tight ${isOn ? 'border-2 border-pine' : 'border-rule'}`}
              onPointerMove={() => isOn || useDesigner.getState().trial || attempt(made())}
              onPointerLeave={() => attempt(null)}
              onFocus={() => attempt(made())}
              onBlur={() => attempt(null)}
              onClick={() => edit(t('edits.theme', { name: theme.name }), made())}
            >
              <span
                className="block truncate text-[13px]"
                style={{
                  fontFamily: `'${title.font}'`,
                  color: title.color,
                  fontWeight: title.bold ? 700 : 400,
                  fontStyle: title.italic ? 'italic' : undefined,
                }}
              >
                {t(`theme.${theme.name}`, { defaultValue: theme.name })}
              </span>
              <span
                aria-hidden
                className="mt-0.5 block px-0.5 text-[8.5px]"
                style={{
                  fontFamily: `'${caption.font}'`,
                  color: caption.color,
                  background: theme.captionBand ?? undefined,
                  borderBottom: `1px solid ${theme.rule}`,
                  fontWeight: caption.bold ? 700 : 400,
                  fontStyle: caption.italic ? 'italic' : undefined,
                }}
              >
                {t('theme.captions')}
              </span>
              {[false, true].map((second) => (
                <span
                  key={String(second)}
                  aria-hidden
                  className="block px-0.5 text-[8.5px]"
                  style={{
                    fontFamily: `'${value.font}'`,
                    color: value.color,
                    background: second ? (theme.alternate ?? undefined) : undefined,
                  }}
                >
                  {t(second ? 'theme.row2' : 'theme.row1')}
                </span>
              ))}
            </button>
          );
        })}
      </div>
    </Section>
  );
};

const OPPOSITE = { top: 'bottom', bottom: 'top', left: 'right', right: 'left' } as const;

/** Paper, orientation and margins, drawn; and what becomes of the layout when they change. */
const PageSection = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { edit, attempt } = useDesigner.getState();
  const [wanted, setWanted] = useState<PageSetup | null>(null);
  const { page } = report;
  const change = (next: PageSetup): void => {
    // Where everything still has its place there is nothing to ask.
    if (roomOf(next) === roomOf(page)) edit(t('edits.page'), paperEdit(report, next, 'leave'));
    else setWanted(next);
  };
  const choose = (how: PaperChange): void => {
    edit(t('edits.page'), paperEdit(report, wanted!, how));
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
              edit(t('edits.page'), { do: 'report', settings: { page: { ...page, continuous: on || undefined } } })
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
          <p className="mb-1.5">{t(overflows(report, wanted) ? 'page.wouldOverflow' : 'page.whatNow')}</p>
          <div className="flex flex-col gap-1">
            {(['fit', 'scale', 'leave'] as const).map((how) => (
              <Button
                key={how}
                onPointerMove={() => useDesigner.getState().trial || attempt(paperEdit(report, wanted, how))}
                onPointerLeave={() => attempt(null)}
                onFocus={() => attempt(paperEdit(report, wanted, how))}
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
