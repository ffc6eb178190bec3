import { filterByPress, type ItemOf, isPressFilterOn, type PressedItem, pressFilters } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { queries } from '../../../api/queries.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { useDesign } from '../../design/context.ts';
import { useDesigner } from '../../design/state.ts';
import { FormulaBox, type FormulaPlace } from '../../formula/formula-box.tsx';
import { Section, Setting } from '../../settings/setting.tsx';

/** Stands for setting parameters of this report among the reports. */
const SET = '=set';
/** Before the number of a drawer whose rows are filtered. */
const KEEP = '=keep ';

type OnPressSetting = NonNullable<ItemOf<'chart'>['onPress']>;

interface Props {
  item: PressedItem;
  /** Where the formula of a value stands. */
  addressOf: (path: string, next: (formula: string) => OnPressSetting) => FormulaPlace;
  onChange: (onPress: OnPressSetting | null) => void;
}

/** What a press on a part of an item does: filters rows of this report, sets parameters of it, or opens another one. */
export const OnPress = ({ item, addressOf, onChange: put }: Props) => {
  const { t } = useTranslation();
  const { onPress } = item;
  const { report, model, entities } = useDesign();
  const filters = useMemo(() => pressFilters(report, item.id, { model, entities }), [report, item.id, model, entities]);
  const filtering = filters.filter((filter) => isPressFilterOn(report, item, filter));
  const wordsOf = ({ drawer, group }: (typeof filters)[number]): string =>
    t('chart.press_filter', { drawer: drawer.name, group: group.caption?.trim() || group.name });
  const pick = (value: string): void => {
    const filter = value.startsWith(KEEP) ? filters[Number(value.slice(KEEP.length))] : undefined;
    if (filter) {
      const what = t('edits.pressFilter', { drawer: filter.drawer.name });
      useDesigner.getState().edit(what, filterByPress(report, item, filter));
    } else put(value === '' ? null : value === SET ? { set: {} } : { report: value, parameters: {} });
  };
  const reports = useQuery(queries.reports());
  const opened = onPress && 'report' in onPress ? onPress.report : null;
  const other = useQuery({ ...queries.otherReport(opened ?? ''), enabled: opened !== null });
  const parameters = opened === null ? report.parameters : (other.data?.definition.parameters ?? []);
  const values: Readonly<Record<string, string>> = !onPress ? {} : 'set' in onPress ? onPress.set : onPress.parameters;
  const withValues = (next: Record<string, string>): OnPressSetting =>
    opened === null ? { set: next } : { report: opened, parameters: next };
  return (
    <Section title={t('chart.onPress')} section="on-press">
      <Setting label={t('chart.onPressDoes')} wide>
        <Select
          label={t('chart.onPressDoes')}
          value={!onPress ? '' : (opened ?? SET)}
          choices={[
            { value: '', label: t('chart.press_nothing') },
            { value: SET, label: t('chart.press_set') },
            ...filters.map((filter, i) => ({
              value: `${KEEP}${i}`,
              label: wordsOf(filter),
              group: t('chart.press_filters'),
            })),
            ...(reports.data ?? []).map(({ id, name }) => ({
              value: id,
              label: name,
              group: t('chart.press_report'),
            })),
          ]}
          onPick={pick}
        />
      </Setting>
      {filtering.length > 0 && (
        <p className="text-[11.5px] text-ink-3">
          {t('chart.press_filtering', { what: filtering.map(wordsOf).join(', ') })}
        </p>
      )}
      {onPress && opened === null && parameters.length === 0 && (
        <p className="text-[11.5px] text-ink-3">{t('chart.press_noParameter')}</p>
      )}
      {onPress &&
        parameters.map(({ name, label }) => (
          <Setting key={name} label={label}>
            <FormulaBox
              label={t('subreport.link', { name: label })}
              value={values[name] ?? ''}
              placeholder={t('subreport.optional')}
              address={addressOf(`onPress/${name}`, (formula) => withValues({ ...values, [name]: formula }))}
              onCommit={(formula) => {
                const { [name]: _, ...others } = values;
                put(withValues(formula.trim() === '' ? others : { ...others, [name]: formula }));
              }}
            />
          </Setting>
        ))}
    </Section>
  );
};
