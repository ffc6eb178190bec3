import { type CrosstabCell, SHOWN_AS, type TotalParts, totalFormula, totalParts } from '@gaveta/core/internal';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useTranslation } from 'react-i18next';
import { swapped } from '../../../data/lists.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { Check } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { HighlightRules } from '../../settings/highlights.tsx';
import { ItemType } from '../../settings/item-type.tsx';
import { Setting } from '../../settings/setting.tsx';
import { CaptionAndFormat } from './caption-and-format.tsx';
import { CellLink } from './cell-link.tsx';
import type { CrosstabHands } from './use-crosstab.ts';
import { CELL_TOTALS, cellWords } from './words.ts';

/** Colours from the smallest value to the largest to begin with. */
const SCALE = { from: '#eff6f2', to: '#7db59f' };

/** What the cells count, and how they show it. */
export const CellChoices = ({ hands, at }: { hands: CrosstabHands; at: number }) => {
  const { t } = useTranslation();
  const { item, fields, changeCell, remove, set, placeOf } = hands;
  const cell = item.cells[at];
  if (!cell) return null;
  const name = cellWords(t, cell);
  const parts = totalParts(cell.formula);
  const change = (next: Parameters<typeof changeCell>[1]): void => changeCell(at, next);
  const total = (next: Partial<TotalParts>): void => {
    if (parts) change({ formula: totalFormula({ ...parts, ...next }) });
  };
  const placeIn = (path: string, next: (formula: string) => Partial<CrosstabCell>) =>
    placeOf(`cells/${at}${path && `/${path}`}`, true, (formula) => ({
      cells: item.cells.map((one, i) => (i === at ? { ...one, ...next(formula) } : one)),
    }));
  const move = (to: number): void => set(t('crosstab.cells'), { cells: swapped(item.cells, at, to) });
  const known = CELL_TOTALS.find((one) => one === parts?.name);
  return (
    <div data-choices={`cells-${at}`}>
      <div className="flex items-center gap-1">
        <b className="mr-auto truncate font-semibold">{name}</b>
        <IconButton label={t('crosstab.earlier', { name })} disabled={at === 0} onClick={() => move(at - 1)}>
          <ArrowUp size={13} />
        </IconButton>
        <IconButton
          label={t('crosstab.later', { name })}
          disabled={at === item.cells.length - 1}
          onClick={() => move(at + 1)}
        >
          <ArrowDown size={13} />
        </IconButton>
        <IconButton label={t('crosstab.remove', { name })} onClick={() => remove('cells', at)}>
          <X size={14} />
        </IconButton>
      </div>
      {parts && (
        <>
          <Setting label={t('formula.total')}>
            <Select
              label={t('formula.total')}
              value={known}
              blank={parts.name}
              choices={CELL_TOTALS.map((value) => ({
                value,
                label: t(value === 'MEDIAN' ? 'formula.total_MEDIAN' : `data.total_${value}`),
              }))}
              onPick={(picked) => total({ name: picked })}
            />
          </Setting>
          <Setting label={t('crosstab.field')}>
            <Select
              label={t('crosstab.field')}
              value={fields.some(({ formula }) => formula === parts.of) ? parts.of : undefined}
              blank={parts.of}
              choices={fields.map(({ formula, label, of }) => ({ value: formula, label, group: of }))}
              onPick={(of) => {
                const label = fields.find(({ formula }) => formula === of)?.label;
                change({ formula: totalFormula({ ...parts, of }), ...(label ? { caption: label } : {}) });
              }}
            />
          </Setting>
        </>
      )}
      <Setting label={t('crosstab.formula')} wide>
        <FormulaBox
          label={t('crosstab.formula')}
          value={cell.formula}
          address={placeIn('', (formula) => ({ formula }))}
          onCommit={(formula) => formula.trim() !== '' && change({ formula })}
        />
      </Setting>
      <Setting label={t('crosstab.shows')}>
        <Select
          label={t('crosstab.shows')}
          value={cell.shows ?? 'value'}
          choices={SHOWN_AS.map((value) => ({ value, label: t(`crosstab.shows_${value}`) }))}
          onPick={(shows) => change({ shows: shows === 'value' ? null : shows })}
        />
      </Setting>
      <CaptionAndFormat of={cell} onChange={change} />
      <CellLink
        cell={cell}
        placeOf={(name) =>
          placeIn(`link/parameters/${name}`, (formula) => ({
            link: { ...cell.link!, parameters: { ...cell.link!.parameters, [name]: formula } },
          }))
        }
        onChange={(link) => change({ link })}
      />
      <Check
        label={t('crosstab.scale')}
        checked={cell.scale !== undefined}
        onChange={(on) => change({ scale: on ? SCALE : null })}
        beside={
          cell.scale && (
            <span className="ml-auto flex gap-1">
              <ColorBox
                label={t('crosstab.scaleFrom')}
                value={cell.scale.from}
                onPick={(from) => change({ scale: { ...cell.scale!, from } })}
              />
              <ColorBox
                label={t('crosstab.scaleTo')}
                value={cell.scale.to}
                onPick={(to) => change({ scale: { ...cell.scale!, to } })}
              />
            </span>
          )
        }
      />
      <Setting label={t('look.highlights')} wide>
        <HighlightRules
          highlights={cell.highlights ?? []}
          address={placeIn('highlights', (when) => ({ highlights: [{ when, look: {} }] }))}
          onChange={(next) => change({ highlights: next.length > 0 ? next : null })}
        />
      </Setting>
      <ItemType label={t('designer.look')} hasBackground look={cell.look ?? {}} onChange={(look) => change({ look })} />
    </div>
  );
};
