import type { StepOf } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button } from '../../ui/controls.tsx';
import { Select } from '../../ui/select.tsx';
import { EntryList, FieldSelect, TextBox } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';

import { totalsFor } from '../totals.ts';

const Editor = ({ step, onChange, fields, before, parameters }: EditorProps<StepOf<'spread'>>) => {
  const { t } = useTranslation();
  const values = useQuery({
    ...queries.recipeValues({ steps: before, parameters }, step.names),
    enabled: step.names !== '',
  });
  const found = values.data?.found ?? [];
  const others = fields.filter((f) => f.name !== step.names && f.name !== step.values).map((f) => f.name);
  const make = (value: string, taken: readonly string[]) => ({
    value,
    name: freeName(value, [...others, ...taken]),
    label: value,
  });
  return (
    <div className="flex flex-col gap-1.5">
      <div className="grid grid-cols-2 gap-1.5">
        <FieldSelect
          label={t('data.namesIn')}
          fields={fields}
          value={step.names}
          onChange={(names) => onChange({ ...step, names, into: [] })}
        />
        <FieldSelect
          label={t('data.valuesIn')}
          fields={fields}
          value={step.values}
          onChange={(name) => onChange({ ...step, values: name })}
        />
      </div>
      <Select
        label={t('data.total')}
        value={step.total}
        choices={totalsFor(fields.find((f) => f.name === step.values)).map((total) => ({
          value: total,
          label: t('data.severalValues', { total: t(`data.total_${total}`) }),
        }))}
        onPick={(total) => onChange({ ...step, total })}
      />
      <Button
        className="self-start"
        disabled={found.length === 0}
        onClick={() => {
          const into: StepOf<'spread'>['into'] = [];
          for (const { value } of found.slice(0, 100))
            into.push(
              make(
                value,
                into.map((x) => x.name),
              ),
            );
          onChange({ ...step, into });
        }}
      >
        {t('data.findNames', { count: found.length })}
      </Button>
      <EntryList
        items={step.into}
        onChange={(into) => onChange({ ...step, into })}
        add={t('data.addName')}
        make={() =>
          make(
            '',
            step.into.map((x) => x.name),
          )
        }
        name={(into) => String(into.value)}
      >
        {(into, change) => (
          <>
            <TextBox
              label={t('data.nameInRows')}
              value={String(into.value)}
              onChange={(value) =>
                change(
                  make(
                    value,
                    step.into.map((x) => x.name),
                  ),
                )
              }
            />
            <TextBox
              label={t('data.columnLabel')}
              value={into.label ?? into.name}
              onChange={(label) => change({ ...into, label })}
            />
          </>
        )}
      </EntryList>
    </div>
  );
};

export const spreadRoom: StepRoom<'spread'> = {
  Editor,
  begin: ({ fields, first }) => ({
    step: 'spread',
    names: first,
    values: fields.find((f) => f.type === 'number' && !f.hidden)?.name ?? '',
    total: 'MAX',
    into: [],
  }),
  words: ({ into }) => [[into.map((x) => x.label ?? String(x.value)).join(', ') || '…']],
};
