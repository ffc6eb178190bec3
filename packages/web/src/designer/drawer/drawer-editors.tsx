import {
  type Comparison,
  conditionFormula,
  conditionOf,
  type Drawer,
  type Edit,
  type Entity,
  type Field,
  freeName,
  type Group,
  identifierOf,
  type Parameter,
  type Sort,
} from '@gaveta/core';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useTranslation } from 'react-i18next';
import { ConditionEditor } from '../../data/condition-editor.tsx';
import { FieldSelect, TextBox } from '../../data/fields.tsx';
import { IconButton, inputLook } from '../../ui/controls.tsx';
import { Pick } from '../../ui/pick.tsx';
import { useDesign } from '../context.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { useDesigner } from '../state.ts';
import { newGroup } from './groups.ts';

const useDrawerEdit = (drawer: Drawer) => {
  const { t } = useTranslation();
  return (what: string, settings: Record<string, unknown>): void =>
    useDesigner.getState().edit(t(`edits.${what}`), { do: 'drawer', drawer: drawer.id, settings });
};

interface EditorProps {
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
        const known = offered.some((f) => f.name === one.by);
        const replace = (next: Sort): void => put(sort.map((old, at) => (at === i ? next : old)));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: entries are told apart by their place
          <div key={i} className="flex items-center gap-1">
            {known ? (
              <FieldSelect
                label={t('drawer.sortField', { number: i + 1 })}
                fields={offered}
                value={one.by}
                onChange={(by) => replace({ ...one, by })}
              />
            ) : (
              <TextBox
                label={t('drawer.sortField', { number: i + 1 })}
                className="font-mono text-[12px]"
                value={one.by}
                onChange={(by) => replace({ ...one, by })}
              />
            )}
            <button
              type="button"
              aria-label={t(one.descending ? 'drawer.down' : 'drawer.up')}
              title={t(one.descending ? 'drawer.down' : 'drawer.up')}
              className="grid h-[26px] w-8 flex-none place-items-center rounded border border-rule"
              onClick={() => replace({ ...one, descending: one.descending ? undefined : true })}
            >
              {one.descending ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />}
            </button>
            <select
              aria-label={t('drawer.blanks', { number: i + 1 })}
              title={t('drawer.blanks', { number: i + 1 })}
              className={`${inputLook} max-w-24`}
              value={one.blanks ?? 'last'}
              onChange={(event) =>
                replace(strip({ ...one, blanks: event.target.value === 'first' ? 'first' : undefined }))
              }
            >
              <option value="last">{t('drawer.blanksLast')}</option>
              <option value="first">{t('drawer.blanksFirst')}</option>
            </select>
            <IconButton label={t('drawer.takeOut')} onClick={() => put(sort.filter((_, at) => at !== i))}>
              <X size={14} />
            </IconButton>
          </div>
        );
      })}
      <Pick
        label={t('drawer.addSort')}
        choices={offered
          .filter((f) => !f.hidden && !sort.some((one) => one.by === f.name))
          .map((f) => ({ value: f.name, label: f.label }))}
        onPick={(by) => put([...sort, { by }])}
      />
    </div>
  );
};

/** Which rows are shown: tests in words, or a formula where words do not reach. */
export const FilterEditor = ({ drawer, entity, fields }: EditorProps & { entity: Entity | null }) => {
  const { t } = useTranslation();
  const { report, models } = useDesign();
  const change = useDrawerEdit(drawer);
  const condition = conditionOf(drawer.filter ?? '', fields);
  const model = models.find((m) => m.name === report.model);
  const from = entity && model?.entities.some((e) => e.name === entity.name);
  const newParameter = (field: Field, is: Comparison): string => {
    const many = is === 'oneOf' || is === 'notOneOf';
    const name = freeName(field.name, new Set(report.parameters.map((p) => p.name)));
    const type: Parameter['type'] = many
      ? 'choices'
      : field.type === 'number' || field.type === 'boolean'
        ? field.type
        : field.type === 'date' || field.type === 'datetime'
          ? is === 'within'
            ? 'dates'
            : 'date'
          : 'text';
    const choices = many && entity ? { choicesFrom: { rows: entity.name, value: field.name } } : {};
    const parameter: Parameter = { name, label: field.label, type, ...choices };
    useDesigner
      .getState()
      .edit(t('edits.parameter'), { do: 'report', settings: { parameters: [...report.parameters, parameter] } });
    return name;
  };
  return (
    <div className="flex flex-col gap-2">
      <ConditionEditor
        condition={condition}
        fields={fields}
        parameters={report.parameters}
        before={from ? [{ step: 'take', from: { model: model!.name, entity: entity.name } }] : []}
        onNewParameter={newParameter}
        onChange={(next) => {
          const formula = conditionFormula(next, fields);
          change('filter', { filter: formula === 'TRUE()' ? null : formula });
        }}
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

/** What stretches a field can be grouped by. */
const periodsOf = (field: Field | undefined): readonly NonNullable<Group['per']>[] =>
  field?.type === 'date'
    ? ['value', 'day', 'week', 'month', 'quarter', 'year']
    : field?.type === 'datetime'
      ? ['value', 'hour', 'day', 'week', 'month', 'quarter', 'year']
      : field?.type === 'number'
        ? ['value', 'range']
        : ['value', 'letter'];

/** Groups from the outermost inwards, each with its headings on the board. */
export const GroupsEditor = ({ drawer, fields }: EditorProps) => {
  const { t } = useTranslation();
  const { report } = useDesign();
  const { edit } = useDesigner.getState();
  const change = useDrawerEdit(drawer);
  const groups = drawer.groups ?? [];
  const put = (next: Group[]): void => change('groups', { groups: next.length > 0 ? next : null });
  const offered = fields.filter((f) => f.type !== 'picture');
  const add = (field: Field): void => {
    const made: Edit = newGroup(report, drawer, field);
    edit(t('edits.group', { field: field.label }), made);
  };
  return (
    <div className="flex flex-col gap-2">
      {groups.map((group, i) => {
        const field = offered.find((f) => f.name === group.by);
        const replace = (next: Partial<Group>): void =>
          put(groups.map((old, at) => (at === i ? strip({ ...old, ...next }) : old)));
        return (
          <div key={group.name} className="flex flex-col gap-1 border-l-2 border-brass pl-2">
            <div className="flex items-center gap-1">
              <b className="mr-auto truncate font-semibold">{field?.label ?? group.by}</b>
              <IconButton
                label={t('drawer.groupUp', { name: group.name })}
                disabled={i === 0}
                onClick={() => put(swapped(groups, i, i - 1))}
              >
                <ArrowUp size={13} />
              </IconButton>
              <IconButton
                label={t('drawer.groupRemove', { name: group.name })}
                onClick={() => put(groups.filter((_, at) => at !== i))}
              >
                <X size={14} />
              </IconButton>
            </div>
            <div className="grid grid-cols-2 gap-1">
              <select
                aria-label={t('drawer.groupEach', { name: group.name })}
                className={inputLook}
                value={group.per ?? 'value'}
                onChange={(event) => {
                  const per = event.target.value as NonNullable<Group['per']>;
                  replace({ per: per === 'value' ? undefined : per, width: per === 'range' ? 10 : undefined });
                }}
              >
                {periodsOf(field).map((per) => (
                  <option key={per} value={per}>
                    {t(`drawer.each_${per}`)}
                  </option>
                ))}
              </select>
              <select
                aria-label={t('drawer.groupOrder', { name: group.name })}
                className={inputLook}
                value={group.descending ? 'down' : 'up'}
                onChange={(event) => replace({ descending: event.target.value === 'down' || undefined })}
              >
                <option value="up">{t('drawer.up')}</option>
                <option value="down">{t('drawer.down')}</option>
              </select>
            </div>
            {group.per === 'range' && (
              <TextBox
                label={t('drawer.rangeWidth')}
                value={String(group.width ?? 10)}
                onChange={(text) => Number(text) > 0 && replace({ width: Number(text) })}
              />
            )}
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={group.header?.pageBreak === 'between'}
                disabled={!group.header}
                onChange={(event) =>
                  replace({
                    header: { ...group.header!, pageBreak: event.target.checked ? 'between' : undefined },
                  })
                }
              />
              {t('drawer.newPageBetween')}
            </label>
            <GroupMore drawer={drawer} group={group} groups={groups} replace={replace} />
          </div>
        );
      })}
      <Pick
        label={t('drawer.addGroup')}
        choices={offered
          .filter((f) => !f.hidden && !groups.some((g) => g.by === f.name))
          .map((f) => ({ value: f.name, label: f.label }))}
        onPick={(name) => {
          const field = offered.find((f) => f.name === name);
          if (field) add(field);
        }}
      />
      <p className="text-[11.5px] text-ink-3">{t('drawer.groupHelp')}</p>
    </div>
  );
};

interface GroupMoreProps {
  drawer: Drawer;
  group: Group;
  groups: readonly Group[];
  replace: (next: Partial<Group>) => void;
}

/** What few people need of a group: its name in formulas, its order by a formula, how many rows, whether it is cut. */
const GroupMore = ({ drawer, group, groups, replace }: GroupMoreProps) => {
  const { t } = useTranslation();
  const { name } = group;
  return (
    <details>
      <summary className="cursor-pointer text-ink-2">{t('drawer.groupMore')}</summary>
      <div className="mt-1 grid grid-cols-[90px_minmax(0,1fr)] items-center gap-1">
        <span className="text-ink-2">{t('drawer.groupName')}</span>
        <TextBox
          label={t('drawer.groupName')}
          className="font-mono text-[12px]"
          value={name}
          onChange={(text) => {
            const clean = identifierOf(text);
            if (clean && !groups.some((other) => other.name === clean)) replace({ name: clean });
          }}
        />
        <span className="text-ink-2">{t('drawer.groupFirst')}</span>
        <TextBox
          label={t('drawer.groupFirst')}
          value={group.first === undefined ? '' : String(group.first)}
          placeholder={t('drawer.allRows')}
          onChange={(text) => {
            const count = Math.floor(Number(text));
            if (text.trim() === '' || count >= 1) replace({ first: count >= 1 ? count : undefined });
          }}
        />
      </div>
      <span className="mt-1 block text-ink-2">{t('drawer.groupOrderBy')}</span>
      <FormulaBox
        label={t('drawer.groupOrderBy')}
        value={group.order ?? ''}
        address={{ drawer: drawer.id, band: 'footer', group: name }}
        placeholder={t('drawer.groupOrderOwn')}
        onCommit={(text) => replace({ order: text.trim() === '' ? undefined : text })}
      />
      <label className="mt-1 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={group.keepWhole ?? false}
          onChange={(event) => replace({ keepWhole: event.target.checked || undefined })}
        />
        {t('drawer.groupKeepWhole')}
      </label>
    </details>
  );
};

const strip = <T extends object>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

const swapped = <T,>(list: readonly T[], a: number, b: number): T[] => {
  const next = [...list];
  [next[a], next[b]] = [next[b]!, next[a]!];
  return next;
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
