import { changedAcross, groupFromAcross, withoutAcross } from '@gaveta/core/internal';
import { ArrowDownNarrowWide, ArrowUpNarrowWide, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check, CommitBox } from '../ui/commit.tsx';
import { Button, IconButton, Line } from '../ui/controls.tsx';
import { FilterPanel } from './filter.tsx';
import { PeriodLine } from './group-panel.tsx';
import { useParts } from './parts.ts';
import { groupLabel, typeOf } from './words.ts';

/** Everything that can be done to what goes across. */
export const AcrossPanel = ({ onClose }: { onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const [filters, setFilters] = useState(false);
  const { across, order } = sketch;
  if (!across) return null;
  const type = typeOf(sketch, across.name, reach);
  const isDescending = order.some(({ by, descending }) => by === across.name && descending);
  const others = order.filter(({ by }) => by !== across.name);
  return (
    <div className="flex flex-col gap-2 p-3">
      <fieldset aria-label={t('sketch.sort')} className="flex gap-1">
        {[false, true].map((descending) => {
          const Icon = descending ? ArrowDownNarrowWide : ArrowUpNarrowWide;
          const isOn = descending === isDescending;
          return (
            <Button
              key={String(descending)}
              aria-pressed={isOn}
              className={`flex-1 justify-center ${isOn ? 'border-pine! bg-pine-soft!' : ''}`}
              // Lines keep their own order, which stands before it.
              onClick={() =>
                change({ ...sketch, order: descending ? [...others, { by: across.name, descending }] : others })
              }
            >
              <Icon size={14} aria-hidden /> {t(`sketch.sort_${type}_${descending ? 'descending' : 'ascending'}`)}
            </Button>
          );
        })}
      </fieldset>
      {filters ? (
        <FilterPanel about={{ field: across.field }} />
      ) : (
        <Button className="justify-center" onClick={() => setFilters(true)}>
          {t('sketch.keepOnlyDots')}
        </Button>
      )}
      {!isReading && (
        <>
          <PeriodLine group={across} onPick={(per) => change(changedAcross(sketch, { per }))} />
          <Line label={t('sketch.rename')}>
            <CommitBox
              label={t('sketch.rename')}
              value={groupLabel(across, reach)}
              most={200}
              onCommit={(label) =>
                change(changedAcross(sketch, { label: label.trim() === '' ? undefined : label.trim() }))
              }
            />
          </Line>
          <Check
            label={t('sketch.acrossTotal')}
            checked={!across.withoutTotal}
            onChange={(on) => change(changedAcross(sketch, { withoutTotal: on ? undefined : true }))}
          />
          <div className="flex items-center gap-1 border-t border-rule-soft pt-2">
            <Button
              look="quiet"
              className="px-2"
              onClick={() => {
                change(groupFromAcross(sketch));
                onClose();
              }}
            >
              {t('sketch.asGroup')}
            </Button>
            <span className="flex-1" />
            <IconButton
              label={t('sketch.removeAcross')}
              onClick={() => {
                change(withoutAcross(sketch));
                onClose();
              }}
            >
              <Trash2 size={15} />
            </IconButton>
          </div>
        </>
      )}
    </div>
  );
};
