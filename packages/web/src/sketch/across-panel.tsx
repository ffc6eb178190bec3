import { changedAcross, groupFromAcross, withoutAcross } from '@gaveta/core/internal';
import { Trash2 } from 'lucide-react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { Button, IconButton } from '../ui/controls.tsx';
import { PeriodLine } from './group-panel.tsx';
import { KeepOnly, RenameLine, SortButtons } from './panel-parts.tsx';
import { useParts } from './parts.ts';
import { groupLabel, typeOf } from './words.ts';

/** Everything that can be done to what goes across. */
export const AcrossPanel = ({ onClose }: { onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const { across, order } = sketch;
  if (!across) return null;
  const isDescending = order.some(({ by, descending }) => by === across.name && descending === true);
  const others = order.filter(({ by }) => by !== across.name);
  return (
    <div className="flex flex-col gap-2 p-3">
      <SortButtons
        type={typeOf(sketch, across.name, reach)}
        isDescending={isDescending}
        // Lines keep their own order, which stands before it.
        onPick={(descending) =>
          change({ ...sketch, order: descending ? [...others, { by: across.name, descending }] : others })
        }
      />
      <KeepOnly about={{ field: across.field }} />
      {!isReading && (
        <>
          <PeriodLine group={across} onPick={(per) => change(changedAcross(sketch, { per }))} />
          <RenameLine
            label={groupLabel(across, reach)}
            onRename={(label) => change(changedAcross(sketch, { label }))}
          />
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
