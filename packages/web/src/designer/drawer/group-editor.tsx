import {
  copyGroup,
  type DataType,
  type Drawer,
  formulaFacts,
  type Group,
  newGroup,
  periodsFor,
  withPeriod,
} from '@gaveta/core/internal';
import { ArrowDown, ArrowUp, Copy, X } from 'lucide-react';
import { TextBox } from '../../data/fields.tsx';
import { strip, swapped } from '../../data/lists.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { NameBox } from '../../ui/name-box.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { agreedToRemove } from '../design/removing.ts';
import { useRename } from '../design/renaming.ts';
import { useDesigner } from '../design/state.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { FoldSetting } from '../settings/fold-setting.tsx';
import { type EditorProps, useDrawerEdit, WrittenOne } from './drawer-editors.tsx';
import { canGroup, orderOf } from './sentence.ts';

/** Groups from the outermost inwards, each with its headings on the board. */
export const GroupsEditor = ({ drawer, fields }: EditorProps) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const { edit } = useDesigner.getState();
  const change = useDrawerEdit(drawer);
  const groups = drawer.groups ?? [];
  const put = (next: Group[]): void => change('groups', { groups: next.length > 0 ? next : null });
  const offered = fields.filter((f) => f.type !== 'picture');
  /** Of what is no field: what the formula gives. */
  const typeOf = (formula: string): DataType => {
    const { type } = formulaFacts(report, { drawer: drawer.id, band: 'detail' }, formula, plan);
    return type === null || type === 'any' || type === 'list' ? 'text' : type;
  };
  const add = (field: { name: string; label: string; type: DataType }): void =>
    edit(t('edits.group', { field: field.label }), newGroup(report, drawer, field));
  return (
    <div className="flex flex-col gap-2">
      {groups.map((group, i) => {
        const field = offered.find((f) => f.name === group.by);
        const replace = (next: Partial<Group>): void =>
          put(groups.map((old, at) => (at === i ? strip({ ...old, ...next }) : old)));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a group that is renamed stays the same one
          <div key={i} className="flex flex-col gap-1 border-s-2 border-brass ps-2">
            <div className="flex items-center gap-1">
              <b className="me-auto truncate font-semibold">{field?.label ?? group.by}</b>
              <IconButton
                label={t('drawer.groupUp', { name: group.name })}
                disabled={i === 0}
                onClick={() => put(swapped(groups, i, i - 1))}
              >
                <ArrowUp size={13} />
              </IconButton>
              <IconButton
                label={t('drawer.groupDown', { name: group.name })}
                disabled={i === groups.length - 1}
                onClick={() => put(swapped(groups, i, i + 1))}
              >
                <ArrowDown size={13} />
              </IconButton>
              <IconButton
                label={t('drawer.groupCopy', { name: group.name })}
                onClick={() => edit(t('drawer.groupCopy', { name: group.name }), copyGroup(report, drawer, group))}
              >
                <Copy size={13} />
              </IconButton>
              <IconButton
                label={t('drawer.groupRemove', { name: group.name })}
                onClick={async () => {
                  const part = { kind: 'group', drawer: drawer.id, name: group.name } as const;
                  if (await agreedToRemove(t, field?.label ?? group.name, part))
                    put(groups.filter((_, at) => at !== i));
                }}
              >
                <X size={14} />
              </IconButton>
            </div>
            <div className="grid grid-cols-2 gap-1">
              <Select
                label={t('drawer.groupEach', { name: group.name })}
                value={group.per ?? 'value'}
                choices={periodsFor(field ? field.type : typeOf(group.by)).map((per) => ({
                  value: per,
                  label: t(`drawer.each_${per}`),
                }))}
                onPick={(per) => {
                  const next = withPeriod(group, per);
                  put(groups.map((old, at) => (at === i ? next : old)));
                }}
              />
              <Select
                label={t('drawer.groupOrder', { name: group.name })}
                value={group.descending ? 'down' : 'up'}
                choices={(['up', 'down'] as const).map((way) => ({
                  value: way,
                  label: t(`drawer.${way}_${orderOf(field)}`),
                }))}
                onPick={(way) => replace({ descending: way === 'down' || undefined })}
              />
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
            <FoldSetting
              fold={group.fold}
              address={{ drawer: drawer.id, band: 'header', group: group.name }}
              hasFooter={group.footer !== undefined}
              onChange={(fold) => replace({ fold: fold ?? undefined })}
            />
            <GroupMore drawer={drawer} group={group} groups={groups} replace={replace} />
          </div>
        );
      })}
      <span className="flex flex-wrap gap-x-2">
        <Pick
          label={t('drawer.addGroup')}
          choices={offered
            .filter((f) => !f.hidden && canGroup(drawer, f))
            .map((f) => ({ value: f.name, label: f.label }))}
          onPick={(name) => {
            const field = offered.find((f) => f.name === name);
            if (field) add(field);
          }}
        />
        <WrittenOne
          label={t('drawer.groupFormula')}
          drawer={drawer}
          onWrite={(formula) => add({ name: formula, label: formula, type: typeOf(formula) })}
        />
      </span>
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
  const rename = useRename();
  return (
    <details>
      <summary className="cursor-pointer text-ink-2">{t('drawer.groupMore')}</summary>
      <div className="mt-1 grid grid-cols-[90px_minmax(0,1fr)] items-center gap-1">
        <span className="text-ink-2">{t('drawer.groupName')}</span>
        <NameBox
          label={t('drawer.groupName')}
          value={name}
          taken={groups.map((other) => other.name)}
          onRename={(to) => rename({ kind: 'group', drawer: drawer.id, name }, to)}
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
