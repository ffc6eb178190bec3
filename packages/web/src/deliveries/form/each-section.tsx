import type { Each } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { deliveryQueries } from '../../api/deliveries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { RowsBox } from './rows-box.tsx';
import { type FieldFacts, Row, Section, type SectionProps } from './section.tsx';

interface EachSectionProps extends SectionProps {
  fields: readonly FieldFacts[];
  parts: number | null;
}

/** Whether all get the same, or each row of some table a part of its own. */
export const EachSection = ({ definition, put, fields, parts, children }: EachSectionProps) => {
  const { t } = useTranslation();
  const targets = useQuery(deliveryQueries.targets());
  const { each } = definition;
  const change = (part: Partial<Each>): void => {
    const next = { rowsOf: 'owner' as const, steps: [], ...each, ...part };
    put({ each: next });
  };
  const setPerson = (person: string): void => {
    const { person: _, ...others } = each!;
    put({ each: person === '' ? { ...others, rowsOf: 'owner' } : { ...others, person } });
  };
  return (
    <Section title={t('deliveries.parts')}>
      <div className="mb-1 flex flex-wrap gap-x-4 gap-y-1">
        {(['all', 'each'] as const).map((how) => (
          <label key={how} className="inline-flex items-center gap-1.5">
            <input
              type="radio"
              name="each"
              checked={(each !== undefined) === (how === 'each')}
              onChange={() => {
                if (how === 'each') change({});
                else put({ each: undefined });
              }}
            />
            {t(`deliveries.parts_${how}`)}
          </label>
        ))}
      </div>
      {each && (
        <>
          <RowsBox label={t('deliveries.eachOf')} steps={each.steps} onChange={(steps) => change({ steps })} />
          {parts !== null && each.steps.length > 0 && (
            <p role="status" className="my-1 text-ink-2">
              {t('deliveries.partCount', { count: parts })}
            </p>
          )}
          {targets.data?.hasPeople && fields.length > 0 && (
            <Row label={t('deliveries.person')}>
              <Select
                label={t('deliveries.person')}
                className="w-52!"
                value={each.person ?? ''}
                choices={[
                  { value: '', label: t('deliveries.noPerson') },
                  ...fields.filter(({ type }) => type === 'text').map(({ name, label }) => ({ value: name, label })),
                ]}
                onPick={setPerson}
              />
              {each.person !== undefined && (
                <Select
                  label={t('deliveries.rowsOf')}
                  className="w-64!"
                  value={each.rowsOf}
                  choices={(['owner', 'person'] as const).map((value) => ({
                    value,
                    label: t(`deliveries.rowsOf_${value}`),
                  }))}
                  onPick={(rowsOf) => change({ rowsOf })}
                />
              )}
            </Row>
          )}
        </>
      )}
      {children}
    </Section>
  );
};
