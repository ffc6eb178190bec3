import { type Comparison, type Drawer, type Entity, type Field, findEntity, type Sort } from '@gaveta/core/internal';
import { ArrowDown, ArrowUp, ChevronUp, X } from 'lucide-react';
import { useState } from 'react';
import { FieldSelect, TextBox } from '../../data/fields.tsx';
import { FormulaConditions } from '../../data/formula-conditions.tsx';
import { strip, swapped } from '../../data/lists.ts';
import { namingField } from '../../data/parameters/naming-field.ts';
import { parameterFor } from '../../data/parameters/parameter-for.ts';
import type { NamesIn } from '../../i18n/keys.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { useDesigner } from '../design/state.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { orderOf } from './sentence.ts';

export const useDrawerEdit = (drawer: Drawer) => {
  const { t } = useTranslation();
  return (what: NamesIn<'edits'>, settings: Record<string, unknown>): void =>
    useDesigner.getState().edit(t(`edits.${what}`), { do: 'drawer', drawer: drawer.id, settings });
};

export interface EditorProps {
  drawer: Drawer;
  fields: readonly Field[];
}

/** Which of a list comes first, and one more. */
export const SortEditor = ({ drawer, fields }: EditorProps) => {
  const { t } = useTranslation();
  const change = useDrawerEdit(drawer);
  const sort = drawer.sort ?? [];
  const put = (next: Sort[]): void => change('sort', { sort: next.length > 0 ? next : null });
  const offered = fields.filter((f) => f.type !== 'picture');
  return (
    <div className="flex flex-col gap-1.5">
      {sort.map((one, i) => {
        const label = t('drawer.sortField', { number: i + 1 });
        const known = offered.some((f) => f.name === one.by);
        const replace = (next: Sort): void => put(sort.map((old, at) => (at === i ? next : old)));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: entries are told apart by their place
          <div key={i} className="flex flex-col gap-1 border-s-2 border-brass ps-2">
            <div className="flex items-center gap-0.5">
              {known ? (
                <FieldSelect label={label} fields={offered} value={one.by} onChange={(by) => replace({ ...one, by })} />
              ) : (
                <div className="min-w-0 flex-1">
                  <FormulaBox
                    label={label}
                    value={one.by}
                    address={{ drawer: drawer.id, band: 'detail' }}
                    onCommit={(by) => by.trim() !== '' && replace({ ...one, by })}
                  />
                </div>
              )}
              <IconButton
                label={t('drawer.sortSooner', { number: i + 1 })}
                disabled={i === 0}
                onClick={() => put(swapped(sort, i, i - 1))}
              >
                <ChevronUp size={14} />
              </IconButton>
              <IconButton label={t('drawer.takeOut')} onClick={() => put(sort.filter((_, at) => at !== i))}>
                <X size={14} />
              </IconButton>
            </div>
            <div className="grid grid-cols-2 gap-1">
              <button
                type="button"
                className="flex h-[26px] items-center gap-1 rounded border border-rule px-1.5"
                onClick={() => replace(strip({ ...one, descending: one.descending ? undefined : true }))}
              >
                {one.descending ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />}
                <span className="truncate">
                  {t(`drawer.${one.descending ? 'down' : 'up'}_${orderOf(fields.find((f) => f.name === one.by))}`)}
                </span>
              </button>
              <Select
                label={t('drawer.blanks', { number: i + 1 })}
                value={one.blanks ?? 'last'}
                choices={[
                  { value: 'last', label: t('drawer.blanksLast') },
                  { value: 'first', label: t('drawer.blanksFirst') },
                ]}
                onPick={(blanks) => replace(strip({ ...one, blanks: blanks === 'first' ? 'first' : undefined }))}
              />
            </div>
          </div>
        );
      })}
      <span className="flex flex-wrap gap-x-2">
        <Pick
          label={t('drawer.addSort')}
          choices={offered
            .filter((f) => !f.hidden && !sort.some((one) => one.by === f.name))
            .map((f) => ({ value: f.name, label: f.label }))}
          onPick={(by) => put([...sort, { by }])}
        />
        <WrittenOne label={t('drawer.sortFormula')} drawer={drawer} onWrite={(by) => put([...sort, { by }])} />
      </span>
    </div>
  );
};

interface WrittenProps {
  label: string;
  drawer: Drawer;
  onWrite: (formula: string) => void;
}

/** A way to write a formula where fields do not reach. */
export const WrittenOne = ({ label, drawer, onWrite }: WrittenProps) => {
  const [writing, setWriting] = useState(false);
  if (!writing)
    return (
      <button type="button" className="rounded px-1 text-pine hover:bg-pine-soft" onClick={() => setWriting(true)}>
        = {label}
      </button>
    );
  return (
    <div className="w-full">
      <FormulaBox
        label={label}
        value=""
        address={{ drawer: drawer.id, band: 'detail' }}
        autoFocus
        onCommit={(formula) => {
          setWriting(false);
          if (formula.trim() !== '') onWrite(formula.trim());
        }}
      />
    </div>
  );
};

/** Which rows are shown: tests in words, or a formula where words do not reach. */
export const FilterEditor = ({ drawer, entity, fields }: EditorProps & { entity: Entity | null }) => {
  const { t } = useTranslation();
  const { report, models } = useDesign();
  const change = useDrawerEdit(drawer);
  const filter = drawer.filter ?? '';
  const model = models.find((m) => m.name === report.model);
  const from = entity && model?.entities.some((e) => e.name === entity.name);
  const newParameter = (field: Field, is: Comparison): string => {
    const path = field.name.split('.');
    const relation = path.length > 1 ? entity?.relations.find((r) => r.name === path[0]) : undefined;
    const rows = path.length > 1 ? relation?.to : entity?.name;
    const table = rows === undefined ? null : from && model ? findEntity(model, rows) : entity;
    const value = path.at(-1)!;
    const called = table && namingField(table.fields, table.key)?.name === value ? table.label : undefined;
    const home = rows === undefined ? null : { rows, value, called };
    const made = parameterFor(field, is, home, report.parameters);
    useDesigner
      .getState()
      .edit(t('edits.parameter'), { do: 'report', settings: { parameters: [...report.parameters, made] } });
    return made.name;
  };
  return (
    <div className="flex flex-col gap-2">
      <FormulaConditions
        formula={filter}
        fields={fields}
        parameters={report.parameters}
        before={from ? [{ step: 'take', from: { model: model!.name, entity: entity.name } }] : []}
        onNewParameter={newParameter}
        onChange={(formula) => change('filter', { filter: formula === '' ? null : formula })}
      />
      <details>
        <summary className="cursor-pointer text-ink-2">{t('drawer.asFormula')}</summary>
        <FormulaBox
          label={t('drawer.filter')}
          value={drawer.filter ?? ''}
          address={{ drawer: drawer.id, band: 'detail' }}
          onCommit={(filter) => change('filter', { filter: filter.trim() === '' ? null : filter })}
        />
      </details>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={drawer.onlyWithInner ?? false}
          onChange={(event) => change('filter', { onlyWithInner: event.target.checked || null })}
        />
        {t('drawer.onlyWithInner')}
      </label>
    </div>
  );
};

/** At most so many rows for each row around. */
export const FirstEditor = ({ drawer }: { drawer: Drawer }) => {
  const { t } = useTranslation();
  const change = useDrawerEdit(drawer);
  return (
    <div className="flex flex-col gap-1.5">
      <span className="flex items-center gap-2">
        {t('drawer.atMost')}
        <TextBox
          label={t('drawer.atMost')}
          className="max-w-20"
          value={drawer.first === undefined ? '' : String(drawer.first)}
          placeholder={t('drawer.allRows')}
          onChange={(text) => {
            const count = Math.floor(Number(text));
            if (text.trim() === '') change('first', { first: null });
            else if (count >= 1) change('first', { first: count });
          }}
        />
        {t('drawer.rows')}
      </span>
      <p className="text-[11.5px] text-ink-3">{t('drawer.firstHelp')}</p>
    </div>
  );
};
