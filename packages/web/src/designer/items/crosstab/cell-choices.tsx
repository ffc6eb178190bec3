import { type CrosstabCell, SHOWN_AS } from '@gaveta/core/internal';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { swapped } from '../../../data/lists.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { Check } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { HighlightRules } from '../../settings/highlights.tsx';
import { ItemType } from '../../settings/item-type.tsx';
import { Setting } from '../../settings/setting.tsx';
import { CaptionAndFormat } from '../groups/caption-and-format.tsx';
import { TotalSettings } from '../groups/total-settings.tsx';
import { CellLink } from './cell-link.tsx';
import type { CrosstabHands } from './use-crosstab.ts';
import { cellWords } from './words.ts';

/** Colours from the smallest value to the largest to begin with. */
const SCALE = { from: '#eff6f2', to: '#7db59f' };

/** What the cells count, and how they show it. */
export const CellChoices = ({ hands, at }: { hands: CrosstabHands; at: number }) => {
  const { t } = useTranslation();
  const { item, fields, changeCell, remove, set, placeOf } = hands;
  const cell = item.cells[at];
  if (!cell) return null;
  const name = cellWords(t, cell);
  const change = (next: Parameters<typeof changeCell>[1]): void => changeCell(at, next);
  const placeIn = (path: string, next: (formula: string) => Partial<CrosstabCell>) =>
    placeOf(`cells/${at}${path && `/${path}`}`, [...item.down, ...item.across], (formula) => ({
      cells: item.cells.map((one, i) => (i === at ? { ...one, ...next(formula) } : one)),
    }));
  const move = (to: number): void => set(t('crosstab.cells'), { cells: swapped(item.cells, at, to) });
  return (
    <div data-choices={`cells-${at}`}>
      <div className="flex items-center gap-1">
        <b className="me-auto truncate font-semibold">{name}</b>
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
      <TotalSettings of={cell} fields={fields} place={placeIn('', (formula) => ({ formula }))} onChange={change} />
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
            <span className="ms-auto flex gap-1">
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
