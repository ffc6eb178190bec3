import { boardBands, DEFAULT_LOOK, findBand, type Item, type Look, type Report, sameBand } from '@gaveta/core';
import { AlignCenter, AlignLeft, AlignRight, Bold, Italic } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { DrawerMark, inputLook, Line } from '../ui/controls.tsx';
import { lookOf } from './item-view.tsx';
import { selectedItems, useDesigner } from './state.ts';
import { bandLabel, itemLabel } from './words.ts';

const FORMATS: readonly (readonly [string, string])[] = [
  ['General', 'plain'],
  ['#,##0', 'whole'],
  ['#,##0.00', 'two'],
  ['€ #,##0.00', 'euro'],
  ['0%', 'percent'],
  ['d mmm yyyy', 'date'],
  ['dd/mm/yyyy', 'dateShort'],
  ['mmmm yyyy', 'month'],
  ['d mmm yyyy hh:mm', 'time'],
];

const FAMILIES = ['Source Sans 3', 'Source Serif 4', 'Source Code Pro'];

/** The value that all have, or undefined when they differ. */
const shared = <T,>(values: readonly T[]): T | undefined =>
  values.every((v) => v === values[0]) ? values[0] : undefined;

export const SelectionTray = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const selection = useDesigner((s) => s.selection);
  const items = selectedItems(report, selection);
  const [only] = items;
  const title =
    items.length === 1 && only
      ? itemLabel(t, only)
      : items.length > 1
        ? t('designer.several', { count: items.length })
        : '';
  return (
    <section aria-label={t('designer.selection')} className="flex min-h-0 flex-col border-t border-rule">
      <h2 className="flex h-8 flex-none items-center gap-2 px-3 text-[12px] font-semibold">
        {t('designer.selection')} <span className="truncate font-normal text-ink-3">{title}</span> <DrawerMark />
      </h2>
      <div className="min-h-0 flex-1 overflow-auto px-3 pb-3">
        {items.length === 0 ? <BandSettings report={report} /> : <ItemSettings items={items} report={report} />}
      </div>
    </section>
  );
};

const Section = ({ title, children }: { title: string; children: ReactNode }) => (
  <>
    <h3 className="mt-2 mb-1 text-[11px] font-semibold text-ink-2">{title}</h3>
    {children}
  </>
);

const BandSettings = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const address = useDesigner((s) => s.band);
  const { edit } = useDesigner.getState();
  const band = address && findBand(report, address);
  const at = address && boardBands(report).find((b) => sameBand(b.address, address));
  const name = (
    <Section title={t('designer.report')}>
      <CommitLine
        label={t('designer.reportName')}
        value={report.name}
        onCommit={(value) =>
          value.trim() &&
          edit(t('edits.set', { what: t('designer.report') }), { do: 'report', settings: { name: value.trim() } })
        }
      />
    </Section>
  );
  if (!band || !at) {
    return (
      <>
        <p className="text-ink-3">{t('designer.nothing')}</p>
        {name}
      </>
    );
  }
  return (
    <>
      <Section title={bandLabel(t, at.address, at.drawer)}>
        <NumberLine
          label={t('designer.bandHeight')}
          value={band.height}
          onCommit={(height) => edit(t('edits.band'), { do: 'band', band: at.address, settings: { height } })}
        />
      </Section>
      {name}
    </>
  );
};

const ItemSettings = ({ items, report }: { items: Item[]; report: Report }) => {
  const { t } = useTranslation();
  const { edit } = useDesigner.getState();
  const ids = items.map((i) => i.id);
  const [only] = items;
  const field = items.length === 1 && only?.kind === 'field' ? only : null;
  const words = items.every((i) => i.kind === 'text' || i.kind === 'field');
  const looks = items.map((i) => lookOf(report, i));
  const of = <K extends keyof Look>(key: K): Look[K] | undefined => shared(looks.map((l) => l[key]));
  const change = (look: { [K in keyof Look]: Look[K] | null }): void =>
    edit(t('edits.look'), { do: 'look', items: ids, look });
  const sizes: ['x' | 'y' | 'width' | 'height', string][] = [
    ['x', t('designer.x')],
    ['y', t('designer.y')],
    ['width', t('designer.width')],
    ['height', t('designer.height')],
  ];
  return (
    <>
      {field && (
        <Section title={t('designer.content')}>
          <CommitLine
            label={t('designer.formula')}
            setting="formula"
            mono
            value={field.formula}
            onCommit={(formula) =>
              edit(t('edits.set', { what: t('designer.formula') }), { do: 'set', items: ids, settings: { formula } })
            }
          />
          <Line label={t('designer.shownAs')}>
            <select
              className={inputLook}
              value={field.format ?? ''}
              onChange={(event) =>
                edit(t('edits.set', { what: t('designer.shownAs') }), {
                  do: 'set',
                  items: ids,
                  settings: { format: event.target.value || null },
                })
              }
            >
              <option value="">{t('designer.asField')}</option>
              {field.format && !FORMATS.some(([code]) => code === field.format) && (
                <option value={field.format}>{field.format}</option>
              )}
              {FORMATS.map(([code, key]) => (
                <option key={code} value={code}>
                  {t(`formats.${key}`)}
                </option>
              ))}
            </select>
          </Line>
        </Section>
      )}
      {items.length === 1 && only?.kind === 'text' && <p className="mt-1 text-ink-3">{t('designer.editText')}</p>}
      {words && (
        <Section title={t('designer.look')}>
          <Line label={t('designer.font')}>
            <select
              className={inputLook}
              value={of('font') ?? FAMILIES[0]}
              onChange={(event) => change({ font: event.target.value })}
            >
              {FAMILIES.map((family) => (
                <option key={family}>{family}</option>
              ))}
            </select>
          </Line>
          <NumberLine
            label={t('designer.size')}
            unit="pt"
            value={of('size') ?? DEFAULT_LOOK.size}
            least={1}
            onCommit={(size) => change({ size })}
          />
          <Line label={t('designer.color')}>
            <span className="flex items-center gap-1">
              <input
                type="color"
                aria-label={t('designer.color')}
                className="h-[26px] w-9 rounded border border-rule bg-paper p-0.5"
                value={of('color') ?? DEFAULT_LOOK.color}
                onChange={(event) => change({ color: event.target.value })}
              />
              <Toggle label={t('designer.bold')} on={of('bold') ?? false} onClick={() => change({ bold: !of('bold') })}>
                <Bold size={14} />
              </Toggle>
              <Toggle
                label={t('designer.italic')}
                on={of('italic') ?? false}
                onClick={() => change({ italic: !of('italic') })}
              >
                <Italic size={14} />
              </Toggle>
            </span>
          </Line>
          <div className="grid min-h-[30px] grid-cols-[78px_1fr] items-center gap-2">
            <span className="text-ink-2">{t('designer.align')}</span>
            <span className="flex gap-1">
              {(
                [
                  ['left', AlignLeft],
                  ['center', AlignCenter],
                  ['right', AlignRight],
                ] as const
              ).map(([align, Icon]) => (
                <Toggle
                  key={align}
                  label={t(`designer.${align}`)}
                  on={(of('align') ?? DEFAULT_LOOK.align) === align}
                  onClick={() => change({ align })}
                >
                  <Icon size={14} />
                </Toggle>
              ))}
            </span>
          </div>
        </Section>
      )}
      <Section title={t('designer.place')}>
        {sizes.map(([key, label]) => (
          <NumberLine
            key={key}
            label={label}
            value={shared(items.map((i) => i[key]))}
            least={0}
            onCommit={(value) =>
              edit(t('edits.set', { what: label }), { do: 'set', items: ids, settings: { [key]: value } })
            }
          />
        ))}
      </Section>
    </>
  );
};

const Toggle = ({
  label,
  on,
  onClick,
  children,
}: {
  label: string;
  on: boolean;
  onClick: () => void;
  children: ReactNode;
}) => (
  <button
    type="button"
    aria-label={label}
    title={label}
    aria-pressed={on}
    className={`grid h-[26px] w-8 place-items-center rounded border ${on ? 'border-ink bg-ink text-white' : 'border-rule bg-paper'}`}
    onClick={onClick}
  >
    {children}
  </button>
);

interface CommitProps {
  label: string;
  value: string;
  mono?: boolean;
  setting?: string;
  onCommit: (value: string) => void;
}

/** A text box that takes effect on Enter or when it is left, and goes back on Escape. */
const CommitLine = ({ label, value, mono, setting, onCommit }: CommitProps) => {
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  return (
    <Line label={label}>
      <input
        className={`${inputLook} ${mono ? 'font-mono text-[12px]' : ''}`}
        data-setting={setting}
        spellCheck={!mono}
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={() => draft !== value && onCommit(draft)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') setDraft(value);
        }}
      />
    </Line>
  );
};

interface NumberProps {
  label: string;
  /** Undefined when several selected items differ. */
  value: number | undefined;
  unit?: string;
  least?: number;
  onCommit: (value: number) => void;
}

const NumberLine = ({ label, value, unit = 'mm', least = 0, onCommit }: NumberProps) => {
  const commit = (text: string): void => {
    const number = Number(text.replace(',', '.'));
    if (text.trim() !== '' && Number.isFinite(number) && number !== value)
      onCommit(Math.min(5000, Math.max(least, number)));
  };
  return (
    <Line label={label}>
      <span className="flex items-center gap-1.5">
        <input
          // A new value from elsewhere makes a new box, so that what is typed is never mixed with it.
          key={value}
          className={`${inputLook} w-20`}
          inputMode="decimal"
          defaultValue={value ?? ''}
          onBlur={(event) => commit(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') commit(event.currentTarget.value);
          }}
        />
        <span className="text-ink-3">{unit}</span>
      </span>
    </Line>
  );
};
