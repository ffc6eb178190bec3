import { groupPer, type ItemField, periodsFor, type RowGroup } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { CommitBox, NumberBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox, type FormulaPlace } from '../../formula/formula-box.tsx';
import { Setting } from '../../settings/setting.tsx';

interface Props {
  group: RowGroup;
  fields: readonly ItemField[];
  /** Totals that it can be put in order by. */
  totals: readonly { value: string; label: string }[];
  placeOfBy: FormulaPlace;
  onChange: (next: { [K in keyof RowGroup]?: RowGroup[K] | null }) => void;
}

/** What a group goes by, in which order, and how many there are of it. */
export const GroupSettings = ({ group, fields, totals, placeOfBy, onChange }: Props) => {
  const { t } = useTranslation();
  const field = fields.find(({ formula }) => formula === group.by);
  return (
    <>
      <Setting label={t('crosstab.field')}>
        <Select
          label={t('crosstab.field')}
          value={field ? group.by : undefined}
          blank={group.by}
          choices={fields.map(({ formula, label, of }) => ({ value: formula, label, group: of }))}
          onPick={(by) => {
            const next = fields.find(({ formula }) => formula === by);
            const isDate = next?.type === 'date' || next?.type === 'datetime';
            onChange({
              by,
              caption: next?.label ?? null,
              per: isDate ? 'month' : null,
              format: isDate ? 'mmm yyyy' : null,
            });
          }}
        />
      </Setting>
      <Setting label={t('crosstab.formula')} wide>
        <FormulaBox
          label={t('crosstab.formula')}
          value={group.by}
          address={placeOfBy}
          onCommit={(by) => by.trim() !== '' && onChange({ by })}
        />
      </Setting>
      {periodsFor(field?.type).length > 1 && (
        <Setting label={t('crosstab.per')}>
          <Select
            label={t('crosstab.per')}
            value={group.per ?? 'value'}
            choices={periodsFor(field?.type).map((value) => ({ value, label: t(`drawer.each_${value}`) }))}
            onPick={(per) => onChange({ per: null, width: null, format: null, ...groupPer(group, per) })}
          />
        </Setting>
      )}
      {group.per === 'range' && (
        <Setting label={t('drawer.rangeWidth')}>
          <NumberBox
            label={t('drawer.rangeWidth')}
            unit=""
            value={group.width ?? 10}
            least={0.0001}
            most={1e9}
            onCommit={(width) => onChange({ width })}
          />
        </Setting>
      )}
      <Setting label={t('crosstab.order')}>
        <Select
          label={t('crosstab.order')}
          value={group.order ?? ''}
          choices={[{ value: '', label: t('crosstab.byLabel') }, ...totals]}
          onPick={(order) => onChange({ order: order === '' ? null : order, descending: order === '' ? null : true })}
        />
      </Setting>
      <Setting label={t('crosstab.direction')}>
        <Select
          label={t('crosstab.direction')}
          value={group.descending ? 'down' : 'up'}
          choices={(['up', 'down'] as const).map((value) => ({ value, label: t(`drawer.${value}_any`) }))}
          onPick={(way) => onChange({ descending: way === 'down' || null })}
        />
      </Setting>
      <Setting label={t('crosstab.first')}>
        <NumberBox
          label={t('crosstab.first')}
          unit=""
          value={group.first}
          least={1}
          most={100_000}
          placeholder={t('crosstab.all')}
          onCommit={(first) => onChange({ first: Math.round(first), others: group.others ?? t('crosstab.othersWord') })}
          onClear={() => onChange({ first: null, others: null })}
        />
      </Setting>
      {group.first !== undefined && (
        <Setting label={t('crosstab.others')}>
          <CommitBox
            label={t('crosstab.others')}
            value={group.others ?? ''}
            placeholder={t('crosstab.leftOut')}
            onCommit={(others) => onChange({ others: others.trim() === '' ? null : others })}
          />
        </Setting>
      )}
    </>
  );
};
