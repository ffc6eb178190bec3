import { type CrosstabPart, type ItemOf, withField } from '@gaveta/core/internal';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { Check, CommitBox, NumberBox } from '../../../ui/commit.tsx';
import { Pick } from '../../../ui/pick.tsx';
import { Select } from '../../../ui/select.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { RowsOf } from '../groups/rows-of.tsx';
import { groupWords } from '../groups/words.ts';
import { CellChoices } from './cell-choices.tsx';
import { GroupChoices } from './group-choices.tsx';
import { type CrosstabHands, useCrosstab } from './use-crosstab.ts';
import { cellWords } from './words.ts';

/** Where a crosstab’s rows come from, what it groups them by, and what it counts. */
export const CrosstabContent = ({ item }: { item: ItemOf<'crosstab'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const hands = useCrosstab(item);
  const { set } = hands;
  const totals = (['before', 'after', 'none'] as const).map((value) => ({
    value,
    label: t(`crosstab.total_${value}`),
  }));
  return (
    <>
      <Section title={t('designer.content')} section="content">
        <RowsOf hands={hands} cleared={{ down: [], across: [], cells: [] }} />
        <Part hands={hands} part="down" />
        <Part hands={hands} part="across" />
        <Part hands={hands} part="cells" />
      </Section>
      <Section
        title={t('crosstab.totals')}
        more={
          <>
            <Setting label={t('crosstab.totalCaption')}>
              <CommitBox
                label={t('crosstab.totalCaption')}
                value={item.totalCaption ?? ''}
                onCommit={(words) =>
                  set(t('crosstab.totalCaption'), { totalCaption: words.trim() === '' ? null : words })
                }
              />
            </Setting>
            <Setting label={t('crosstab.empty')} wide>
              <CommitBox
                label={t('crosstab.empty')}
                value={item.empty ?? ''}
                onCommit={(words) => set(t('crosstab.empty'), { empty: words.trim() === '' ? null : words })}
              />
            </Setting>
          </>
        }
      >
        <Setting label={t('crosstab.totalDown')}>
          <Select
            label={t('crosstab.totalDown')}
            value={item.totalDown ?? 'after'}
            choices={totals}
            onPick={(totalDown) => set(t('crosstab.totalDown'), { totalDown })}
          />
        </Setting>
        <Setting label={t('crosstab.totalAcross')}>
          <Select
            label={t('crosstab.totalAcross')}
            value={item.totalAcross ?? 'after'}
            choices={totals}
            onPick={(totalAcross) => set(t('crosstab.totalAcross'), { totalAcross })}
          />
        </Setting>
      </Section>
    </>
  );
};

/** How a crosstab looks: its labels, widths and lines. */
export const CrosstabLook = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (item?.kind !== 'crosstab') return null;
  const width = (key: 'labelWidth' | 'cellWidth' | 'rowHeight') => (
    <Setting label={t(`crosstab.${key}`)}>
      <NumberBox
        label={t(`crosstab.${key}`)}
        value={item[key]}
        least={3}
        placeholder={t('crosstab.auto')}
        onCommit={(next) => chosen.set(t(`crosstab.${key}`), { [key]: next })}
        onClear={() => chosen.set(t(`crosstab.${key}`), { [key]: null })}
      />
    </Setting>
  );
  const type = (key: 'headingLook' | 'labelLook' | 'totalLook') => (
    <ItemType
      label={t(`crosstab.${key}`)}
      look={item[key] ?? {}}
      onChange={(look) => chosen.set(t(`crosstab.${key}`), { [key]: look })}
    />
  );
  const check = (key: 'even' | 'below' | 'legend' | 'repeatLabels') => (
    <Check
      label={t(`crosstab.${key}`)}
      checked={item[key] ?? false}
      onChange={(on) => chosen.set(t(`crosstab.${key}`), { [key]: on || null })}
    />
  );
  return (
    <Section
      title={t('designer.look')}
      section="look"
      more={
        <>
          {type('headingLook')}
          {type('labelLook')}
          {type('totalLook')}
          <Setting label={t('crosstab.line')}>
            <ColorBox
              label={t('crosstab.line')}
              value={item.line}
              onPick={(line) => chosen.set(t('crosstab.line'), { line })}
              onClear={() => chosen.set(t('crosstab.line'), { line: null })}
            />
          </Setting>
          {width('labelWidth')}
          {width('cellWidth')}
          {width('rowHeight')}
          {check('even')}
        </>
      }
    >
      <ItemType look={item.look ?? {}} onChange={(look) => chosen.set(t('designer.look'), { look })} />
      <Setting label={t('crosstab.labels')}>
        <Select
          label={t('crosstab.labels')}
          value={item.labels ?? 'indented'}
          choices={(['indented', 'columns'] as const).map((value) => ({ value, label: t(`crosstab.labels_${value}`) }))}
          onPick={(labels) => chosen.set(t('crosstab.labels'), { labels })}
        />
      </Setting>
      {item.labels === 'columns' && check('repeatLabels')}
      {item.cells.length > 1 && check('below')}
      {item.cells.some(({ scale }) => scale) && check('legend')}
    </Section>
  );
};

/** One part: what stands there, each opened by a press, and what can be added. */
const Part = ({ hands, part }: { hands: CrosstabHands; part: CrosstabPart }) => {
  const { t } = useTranslation();
  const { item, fields, set } = hands;
  const [open, setOpen] = useState<number | null>(null);
  const words =
    part === 'cells' ? item.cells.map((cell) => cellWords(t, cell)) : item[part].map((g) => groupWords(t, g));
  const add = (formula: string): void => {
    const field = fields.find((one) => one.formula === formula);
    if (field) set(t(`crosstab.${part}`), withField(item, part, field));
  };
  return (
    <div className="my-1.5" data-part-settings={part}>
      <h4 className="text-ink-2 first-letter:uppercase">{t(`crosstab.${part}`)}</h4>
      {words.map((one, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <div key={at} className="border-s-2 border-brass ps-1.5">
          <button
            type="button"
            aria-expanded={open === at}
            className="flex h-6 w-full items-center gap-1 rounded text-start hover:bg-desk/50"
            onClick={() => setOpen(open === at ? null : at)}
          >
            {open === at ? <ChevronDown size={12} aria-hidden /> : <ChevronRight size={12} aria-hidden />}
            <span className="truncate">{one}</span>
          </button>
          {open === at &&
            (part === 'cells' ? (
              <CellChoices hands={hands} at={at} />
            ) : (
              <GroupChoices hands={hands} part={part} at={at} />
            ))}
        </div>
      ))}
      <Pick
        label={t(`crosstab.add_${part}`)}
        choices={fields.map(({ formula, label, of }) => ({ value: formula, label, note: of }))}
        onPick={add}
      />
    </div>
  );
};
