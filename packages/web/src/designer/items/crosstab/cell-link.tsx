import type { CrosstabCell } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../../api/queries.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox, type FormulaPlace } from '../../formula/formula-box.tsx';
import { Setting } from '../../settings/setting.tsx';

interface Props {
  cell: CrosstabCell;
  /** Where the formula of a parameter stands. */
  placeOf: (name: string) => FormulaPlace;
  onChange: (link: CrosstabCell['link'] | null) => void;
}

/** The report that a click on a cell opens, and what its parameters get of the cell. */
export const CellLink = ({ cell: { link }, placeOf, onChange }: Props) => {
  const { t } = useTranslation();
  const reports = useQuery(queries.reports());
  const other = useQuery({ ...queries.otherReport(link?.report ?? ''), enabled: link !== undefined });
  return (
    <>
      <Setting label={t('crosstab.link')}>
        <Select
          label={t('crosstab.link')}
          value={link?.report ?? ''}
          choices={[
            { value: '', label: t('crosstab.noLink') },
            ...(reports.data ?? []).map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onPick={(report) => onChange(report === '' ? null : { report, parameters: {} })}
        />
      </Setting>
      {link &&
        other.data?.definition.parameters.map(({ name, label }) => (
          <Setting key={name} label={label}>
            <FormulaBox
              label={t('subreport.link', { name: label })}
              address={placeOf(name)}
              value={link.parameters[name] ?? ''}
              placeholder={t('subreport.optional')}
              onCommit={(formula) => {
                const { [name]: _, ...others } = link.parameters;
                const parameters = formula.trim() === '' ? others : { ...others, [name]: formula };
                onChange({ ...link, parameters });
              }}
            />
          </Setting>
        ))}
    </>
  );
};
