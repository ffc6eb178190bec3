import { type StepOf, shownFields } from '@gaveta/core/internal';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { TextBox } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';

type Column = StepOf<'columns'>['columns'][number];

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'columns'>>) => {
  const { t } = useTranslation();
  const put = (columns: Column[]): void => onChange({ ...step, columns });
  const others = shownFields(fields).filter(({ name }) => !step.columns.some((column) => column.field === name));
  const move = (at: number, by: number): void => {
    const columns = [...step.columns];
    const [moved] = columns.splice(at, 1);
    columns.splice(at + by, 0, moved!);
    put(columns);
  };
  return (
    <ol className="flex flex-col gap-1" aria-label={t('data.columnsShown')}>
      {step.columns.map((column, i) => {
        const own = labelOf(fields, column.field);
        return (
          <li
            key={column.field}
            className="grid grid-cols-[auto_minmax(0,1fr)_minmax(0,0.7fr)_auto_auto] items-center gap-1.5"
          >
            <input
              type="checkbox"
              checked
              aria-label={t('data.columnShown', { name: own })}
              onChange={() => put(step.columns.filter((c) => c !== column))}
            />
            <TextBox
              label={t('data.columnLabelOf', { column: own })}
              value={column.label ?? own}
              onChange={(label) => {
                const { label: _, ...rest } = column;
                const next = label.trim();
                put(step.columns.with(i, next === '' || next === own ? rest : { ...rest, label: next }));
              }}
            />
            <TextBox
              label={t('data.columnNameOf', { column: own })}
              className="font-mono text-[12px]"
              value={column.name ?? column.field}
              onChange={(name) => {
                const { name: _, ...rest } = column;
                const next = name.trim();
                put(step.columns.with(i, next === '' || next === column.field ? rest : { ...rest, name: next }));
              }}
            />
            <IconButton label={t('data.columnUp', { name: own })} disabled={i === 0} onClick={() => move(i, -1)}>
              <ChevronUp size={13} aria-hidden />
            </IconButton>
            <IconButton
              label={t('data.columnDown', { name: own })}
              disabled={i === step.columns.length - 1}
              onClick={() => move(i, 1)}
            >
              <ChevronDown size={13} aria-hidden />
            </IconButton>
          </li>
        );
      })}
      {others.map(({ name, label }) => (
        <li key={name} className="flex items-center gap-1.5 text-ink-3">
          <input
            type="checkbox"
            checked={false}
            aria-label={t('data.columnShown', { name: label })}
            onChange={() => put([...step.columns, { field: name }])}
          />
          {label}
        </li>
      ))}
    </ol>
  );
};

export const columnsRoom: StepRoom<'columns'> = {
  Editor,
  begin: ({ fields }) => ({ step: 'columns', columns: shownFields(fields).map(({ name }) => ({ field: name })) }),
  words: ({ columns }, { fields }) => [
    [columns.map(({ field, label }) => label ?? labelOf(fields, field)).join(', ') || '…'],
  ],
};
