import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check, CommitBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { without } from '../groups/use-grouping.ts';
import type { ChartHands } from './use-chart.ts';

interface Props {
  hands: ChartHands;
  name: 'axis' | 'scale' | 'secondScale';
  /** The axis of places, not of values. */
  isAlong?: boolean;
  /** Whether its places may stand where their values say. */
  hasKind?: boolean;
}

/** From where to where an axis goes, and what is said at it. */
export const AxisSettings = ({ hands, name, isAlong = false, hasKind = false }: Props) => {
  const { t } = useTranslation();
  const { item, groups, set, placeOf } = hands;
  const axis = item[name] ?? {};
  type Axis = NonNullable<typeof item.axis>;
  const put = (next: { [K in keyof Axis]?: Axis[K] | null }): void => {
    const all = without({ ...axis, ...next });
    set(t(`chart.${name}`), { [name]: Object.keys(all).length > 0 ? all : null });
  };
  const isStretch = !isAlong || (hasKind && axis !== undefined && (axis as Axis).kind !== 'categories');
  const end = (key: 'from' | 'to') => (
    <Setting label={t(`chart.${key}`)}>
      <FormulaBox
        label={`${t(`chart.${name}`)}: ${t(`chart.${key}`)}`}
        value={axis[key] ?? ''}
        placeholder={t('crosstab.auto')}
        address={placeOf(`${name}/${key}`, groups, (formula) => ({ [name]: { ...axis, [key]: formula } }))}
        onCommit={(formula) => put({ [key]: formula.trim() === '' ? null : formula })}
      />
    </Setting>
  );
  const check = (key: 'log' | 'grid' | 'hidden', usual: boolean) => (
    <Check
      label={t(`chart.${key}`)}
      checked={axis[key] ?? usual}
      onChange={(on) => put({ [key]: on === usual ? null : on })}
    />
  );
  return (
    <Section
      title={t(`chart.${name}`)}
      section={name}
      more={
        <>
          {isStretch && (
            <Setting label={t('crosstab.format')}>
              <CommitBox
                label={`${t(`chart.${name}`)}: ${t('crosstab.format')}`}
                mono
                value={axis.format ?? ''}
                placeholder={t('crosstab.auto')}
                onCommit={(format) => put({ format: format.trim() === '' ? null : format })}
              />
            </Setting>
          )}
          {isStretch && check('log', false)}
          {check('grid', name === 'scale')}
          {check('hidden', false)}
        </>
      }
    >
      <Setting label={t('chart.axisTitle')}>
        <CommitBox
          label={`${t(`chart.${name}`)}: ${t('chart.axisTitle')}`}
          value={axis.title ?? ''}
          onCommit={(title) => put({ title: title.trim() === '' ? null : title })}
        />
      </Setting>
      {hasKind && (
        <Setting label={t('chart.places')}>
          <Select
            label={t('chart.places')}
            value={(axis as Axis).kind ?? 'stretch'}
            choices={(['stretch', 'categories'] as const).map((value) => ({
              value,
              label: t(`chart.places_${value}`),
            }))}
            onPick={(kind) => put({ kind: kind === 'stretch' ? null : kind })}
          />
        </Setting>
      )}
      {isStretch && end('from')}
      {isStretch && end('to')}
    </Section>
  );
};
