import { changedAcross, groupFromAcross, isAcrossDescending, type Sketch, withoutAcross } from '@gaveta/core/internal';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { PeriodLine } from './group-panel.tsx';
import { KeepOnly, PanelFoot, RenameLine, SortButtons } from './panel-parts.tsx';
import { useParts } from './parts.ts';
import { groupLabel, typeOf } from './words.ts';

/** Everything that can be done to what goes across. */
export const AcrossPanel = ({ onClose }: { onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const { across, order } = sketch;
  if (!across) return null;
  const others = order.filter(({ by }) => by !== across.name);
  const done = (next: Sketch): void => {
    change(next);
    onClose();
  };
  return (
    <div className="flex flex-col gap-2 p-3">
      <SortButtons
        type={typeOf(sketch, across.name, reach)}
        isDescending={isAcrossDescending(sketch)}
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
          <PanelFoot
            turns={[{ words: t('sketch.asGroup'), onPick: () => done(groupFromAcross(sketch)) }]}
            remove={{ words: t('sketch.removeAcross'), onPick: () => done(withoutAcross(sketch)) }}
          />
        </>
      )}
    </div>
  );
};
