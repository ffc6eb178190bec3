import { type Report, themeEdit } from '@gaveta/core/internal';
import { useMemo } from 'react';
import { useThemes } from '../../api/use-themes.ts';
import { ParameterForm } from '../../data/parameters/parameter-form.tsx';
import { themeLabel } from '../../i18n/theme-label.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { CommitBox } from '../../ui/commit.tsx';
import { useDesign } from '../design/context.ts';
import { agreedToRemove } from '../design/removing.ts';
import { useRename } from '../design/renaming.ts';
import { useDesigner } from '../design/state.ts';
import { LanguagesSection } from '../languages/languages-section.tsx';
import { QueriesSection } from '../queries/queries-section.tsx';
import { Section, Setting } from '../settings/setting.tsx';
import { PageSection } from './page-section.tsx';
import { ReadersSection } from './readers-section.tsx';
import { StyleSection } from './style-section.tsx';

/** Name, theme, page, parameters and language of the whole report. */
export const ReportSettings = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { edit } = useDesigner.getState();
  const rename = useRename();
  const { plan } = useDesign();
  const home = useMemo(() => ({ report, context: plan }), [report, plan]);
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
        <Setting label={t('report.timeZone')}>
          <CommitBox
            label={t('report.timeZone')}
            value={report.timeZone}
            onCommit={(timeZone) => timeZone.trim() && set(t('report.timeZone'), { timeZone: timeZone.trim() })}
          />
        </Setting>
      </Section>
      <LanguagesSection report={report} />
      <ThemeSection report={report} />
      <StyleSection report={report} />
      <PageSection report={report} />
      <QueriesSection report={report} />
      <ReadersSection report={report} />
      <div data-section="parameters" className="pb-2">
        <ParameterForm
          parameters={report.parameters}
          home={home}
          onChange={(parameters) => edit(t('edits.parameter'), { do: 'report', settings: { parameters } })}
          canAdd
          mayRemove={({ name, label }) => agreedToRemove(t, label, { kind: 'parameter', name })}
          onRename={(name, to) => rename({ kind: 'parameter', name }, to)}
        />
      </div>
    </>
  );
};

/** Looks for the whole report, tried on the live page while the pointer or the keyboard is on them. */
const ThemeSection = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { all } = useThemes();
  const { edit, attempt } = useDesigner.getState();
  return (
    <Section title={t('report.theme')} section="theme">
      <div className="grid grid-cols-2 gap-1.5">
        {all.map((theme) => {
          const { title, caption, value } = theme.styles;
          const isOn = report.theme === theme.name;
          const made = () => themeEdit(report, theme);
          return (
            <button
              key={theme.name}
              type="button"
              aria-pressed={isOn}
              data-theme-choice={theme.name}
              className={`overflow-hidden rounded border bg-white p-1.5 text-start leading-tight ${isOn ? 'border-2 border-pine' : 'border-rule'}`}
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
                {themeLabel(t, theme)}
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
