import {
  type Calculated,
  type Drawer,
  drawerBefore,
  drawersOf,
  findDrawer,
  foldHeading,
  freeName,
  isBesidePrevious,
  pageOfSet,
  putBeside,
  type Report,
  setOf,
  startsPages,
} from '@gaveta/core/internal';
import { Plus, X } from 'lucide-react';
import { fieldsOfRow } from '../../data/fields-of-row.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { Check, NumberBox } from '../../ui/commit.tsx';
import { IconButton } from '../../ui/controls.tsx';
import { NameBox } from '../../ui/name-box.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { agreedToRemove } from '../design/removing.ts';
import { useRename } from '../design/renaming.ts';
import { useDesigner } from '../design/state.ts';
import { drawerLabel } from '../design/words.ts';
import { drawerActions } from '../drawer/drawer-actions.ts';
import { FilterEditor, FirstEditor, SortEditor } from '../drawer/drawer-editors.tsx';
import { GroupsEditor } from '../drawer/group-editor.tsx';
import { drawerSentence } from '../drawer/sentence.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { FoldSetting } from '../settings/fold-setting.tsx';
import { FormatPicker } from '../settings/format-picker.tsx';
import { Section, Setting } from '../settings/setting.tsx';
import { PageSection } from './page-section.tsx';

/** Rows, look and paging of a drawer. */
export const DrawerSettings = ({ report, drawer }: { report: Report; drawer: Drawer }) => {
  const { t } = useTranslation();
  const { entities, model, plan } = useDesign();
  const { edit, focusOn } = useDesigner.getState();
  const entity = entities.get(drawer.id) ?? null;
  const fields = fieldsOfRow(entity, model);
  const parent = findDrawer(report, drawer.id)?.parent ?? null;
  const outer = parent ? (entities.get(parent.id) ?? null) : null;
  const trees = entity?.relations.filter((r) => r.to === entity.name && r.kind === 'many') ?? [];
  const name = drawerLabel(drawer);
  const rename = useRename();
  const set = (what: string, settings: Record<string, unknown>): void =>
    edit(t('edits.set', { what: what.toLowerCase() }), { do: 'drawer', drawer: drawer.id, settings });
  const check = (key: 'keepRow' | 'keepWhole') => (
    <Check
      label={t(`drawer.${key}`)}
      checked={drawer[key] ?? false}
      onChange={(on) => set(t(`drawer.${key}`), { [key]: on || null })}
    />
  );
  return (
    <>
      <p className="mt-1 text-ink-2">{drawerSentence(t, report, drawer, parent, entity, model)}.</p>
      <Section title={t('drawer.rowsTitle')} section="content">
        <Setting label={t('drawer.name')}>
          <NameBox
            label={t('drawer.name')}
            value={drawer.name}
            taken={[...drawersOf(report)].map((d) => d.drawer.name)}
            onRename={(to) => rename({ kind: 'drawer', drawer: drawer.id }, to)}
          />
        </Setting>
        {'entity' in drawer.rows ? (
          <Setting label={t('drawer.rowsFrom')}>
            <Select
              label={t('drawer.rowsFrom')}
              value={drawer.rows.entity}
              choices={(model?.entities ?? [])
                .filter((e) => !e.arguments)
                .map((e) => ({ value: e.name, label: e.plural }))}
              onPick={(next) => set(t('drawer.rowsFrom'), { rows: { ...drawer.rows, entity: next } })}
            />
          </Setting>
        ) : (
          <Setting label={t('drawer.rowsFrom')}>
            <Select
              label={t('drawer.rowsFrom')}
              value={drawer.rows.relation}
              choices={(outer?.relations ?? []).map((r) => ({ value: r.name, label: r.label }))}
              onPick={(relation) => set(t('drawer.rowsFrom'), { rows: { ...drawer.rows, relation } })}
            />
          </Setting>
        )}
        {(trees.length > 0 || drawer.rows.tree !== undefined) && (
          <Setting label={t('drawer.tree')}>
            <Select
              label={t('drawer.tree')}
              value={drawer.rows.tree ?? ''}
              choices={[
                { value: '', label: t('drawer.noTree') },
                ...trees.map((r) => ({ value: r.name, label: r.label })),
              ]}
              onPick={(tree) => {
                const { tree: _, ...rows } = drawer.rows;
                set(t('drawer.tree'), { rows: tree === '' ? rows : { ...rows, tree } });
              }}
            />
          </Setting>
        )}
        <Setting label={t('drawer.sort')} wide>
          <SortEditor drawer={drawer} fields={fields} />
        </Setting>
        <Setting label={t('drawer.filter')} wide>
          <FilterEditor drawer={drawer} entity={entity} fields={fields} />
        </Setting>
        <Setting label={t('drawer.group')} wide>
          <GroupsEditor drawer={drawer} fields={fields} />
        </Setting>
        <Setting label={t('drawer.first')} wide>
          <FirstEditor drawer={drawer} />
        </Setting>
        <Setting label={t('drawer.calculated')} wide>
          <CalculatedEditor drawer={drawer} />
        </Setting>
        {(report.translations || drawer.language !== undefined) && (
          <Setting label={t('languages.ofRows')} wide>
            <FormulaBox
              label={t('languages.ofRows')}
              value={drawer.language ?? ''}
              address={{ drawer: drawer.id, band: 'detail' }}
              onCommit={(language) => set(t('languages.ofRows'), { language: language.trim() || null })}
            />
            <p className="mt-0.5 text-[11.5px] text-ink-3">{t('languages.ofRowsHelp')}</p>
          </Setting>
        )}
      </Section>
      {!parent && <OwnPages report={report} drawer={drawer} />}
      <Section
        title={t('designer.look')}
        section="look"
        more={<ColumnsOfRows report={report} drawer={drawer} set={set} />}
      >
        <Setting label={t('drawer.alternate')}>
          <ColorBox
            label={t('drawer.alternate')}
            value={drawer.alternate}
            onPick={(alternate) => set(t('drawer.alternate'), { alternate })}
            onClear={() => set(t('drawer.alternate'), { alternate: null })}
          />
        </Setting>
      </Section>
      <Section title={t('designer.paging')} section="paging">
        <FoldSetting
          fold={drawer.fold}
          address={foldHeading(report, drawer.id)}
          hasFooter={drawer.footer !== undefined}
          onChange={(fold) => set(t('fold.title'), { fold })}
        />
        {check('keepRow')}
        {check('keepWhole')}
      </Section>
      <Section title={t('drawer.order')}>
        <div className="flex flex-wrap gap-1">
          {drawerActions(report, drawer, model, plan).map(({ key, target, edit: made }) => {
            const words = t(`drawer.do_${key}`, { name, outer: target ? drawerLabel(target).toLowerCase() : '' });
            return (
              <button
                key={`${key}${target?.id ?? ''}`}
                type="button"
                className={`rounded border border-rule px-1.5 py-0.5 text-[12px] hover:bg-desk/60 ${key === 'remove' ? 'text-rust' : ''}`}
                onClick={() => {
                  edit(words, made());
                  if (key === 'remove') focusOn({ kind: 'report' });
                }}
              >
                {words}
              </button>
            );
          })}
        </div>
      </Section>
    </>
  );
};

/** Fields that formulas make. */
const CalculatedEditor = ({ drawer }: { drawer: Drawer }) => {
  const { t } = useTranslation();
  const { entities } = useDesign();
  const { edit } = useDesigner.getState();
  const rename = useRename();
  const list = drawer.calculated ?? [];
  const put = (next: Calculated[]): void =>
    edit(t('edits.calculated'), {
      do: 'drawer',
      drawer: drawer.id,
      settings: { calculated: next.length > 0 ? next : null },
    });
  const replace = (i: number, next: Calculated): void => put(list.map((old, at) => (at === i ? next : old)));
  return (
    <div className="flex flex-col gap-1.5">
      {list.map((one, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a field that is renamed stays the same one
        <div key={i} className="border-s-2 border-brass-soft ps-2">
          <div className="flex items-center gap-1">
            <NameBox
              label={t('drawer.calculatedName', { number: i + 1 })}
              value={one.name}
              taken={[...list, ...(entities.get(drawer.id)?.fields ?? [])].map((f) => f.name)}
              onRename={(to) => rename({ kind: 'calculated', drawer: drawer.id, name: one.name }, to)}
            />
            <IconButton
              label={t('drawer.removeCalculated', { name: one.name })}
              onClick={async () => {
                const part = { kind: 'calculated', drawer: drawer.id, name: one.name } as const;
                if (await agreedToRemove(t, one.name, part)) put(list.filter((_, at) => at !== i));
              }}
            >
              <X size={13} />
            </IconButton>
          </div>
          <FormulaBox
            label={t('drawer.calculatedFormula', { name: one.name })}
            value={one.formula}
            address={{ drawer: drawer.id, band: 'detail' }}
            onCommit={(formula) => replace(i, { ...one, formula })}
          />
          <div className="mt-1 grid grid-cols-[80px_minmax(0,1fr)] items-center gap-1.5">
            <span className="text-ink-2">{t('designer.shownAs')}</span>
            <FormatPicker
              formula={one.formula}
              kind={null}
              address={{ drawer: drawer.id, band: 'detail' }}
              value={one.format}
              onPick={(format) => {
                const { format: _, ...rest } = one;
                replace(i, format === null ? rest : { ...rest, format });
              }}
            />
          </div>
        </div>
      ))}
      <button
        type="button"
        className="flex items-center gap-1 self-start rounded px-1 text-pine hover:bg-pine-soft"
        onClick={() => {
          const used = new Set([...list, ...(entities.get(drawer.id)?.fields ?? [])].map((f) => f.name));
          put([...list, { name: freeName('worked_out', used), formula: '' }]);
        }}
      >
        <Plus size={12} aria-hidden /> {t('drawer.addCalculated')}
      </button>
    </div>
  );
};

/** Whether a set of rows begins on pages of its own, and their paper. */
const OwnPages = ({ report, drawer }: { report: Report; drawer: Drawer }) => {
  const { t } = useTranslation();
  const { edit } = useDesigner.getState();
  const place = setOf(report, drawer.id);
  const page = pageOfSet(report, place);
  const isOwn = startsPages(report, place);
  // One that stands side by side with the one before it stands on its page.
  if (isBesidePrevious(report, drawer)) return null;
  const set = (settings: Record<string, unknown>): void =>
    edit(t('edits.set', { what: t('page.own').toLowerCase() }), { do: 'drawer', drawer: drawer.id, settings });
  return (
    <>
      <Check
        label={t('page.own')}
        checked={isOwn}
        onChange={(on) => set(on ? { page } : { page: null, pageHeader: null, pageFooter: null })}
      />
      {isOwn && <PageSection report={report} place={place} />}
    </>
  );
};

/** Rows in columns, as labels; and drawers side by side. */
const ColumnsOfRows = ({
  report,
  drawer,
  set,
}: {
  report: Report;
  drawer: Drawer;
  set: (what: string, settings: Record<string, unknown>) => void;
}) => {
  const { t } = useTranslation();
  const { columns } = drawer;
  const { edit } = useDesigner.getState();
  const previous = drawerBefore(report, drawer.id);
  return (
    <>
      <Setting label={t('drawer.columns')}>
        <NumberBox
          label={t('drawer.columns')}
          unit=""
          least={1}
          most={50}
          value={columns?.count ?? 1}
          onCommit={(count) =>
            set(t('drawer.columns'), {
              columns:
                Math.round(count) > 1
                  ? { gap: columns?.gap ?? 4, order: columns?.order ?? 'across', count: Math.round(count) }
                  : null,
            })
          }
        />
      </Setting>
      {columns && (
        <>
          <Setting label={t('drawer.columnGap')}>
            <NumberBox
              label={t('drawer.columnGap')}
              value={columns.gap}
              onCommit={(gap) => set(t('drawer.columnGap'), { columns: { ...columns, gap } })}
            />
          </Setting>
          <Setting label={t('drawer.columnOrder')}>
            <Select
              label={t('drawer.columnOrder')}
              value={columns.order}
              choices={(['across', 'down'] as const).map((value) => ({ value, label: t(`drawer.order_${value}`) }))}
              onPick={(order) => set(t('drawer.columnOrder'), { columns: { ...columns, order } })}
            />
          </Setting>
        </>
      )}
      {previous && (
        <Check
          label={t('drawer.beside', { name: drawerLabel(previous) })}
          checked={isBesidePrevious(report, drawer)}
          onChange={(on) => {
            const made = putBeside(report, drawer.id, on);
            const outer = drawerLabel(previous).toLowerCase();
            if (made) edit(t(on ? 'drawer.do_beside' : 'drawer.do_below', { name: drawerLabel(drawer), outer }), made);
          }}
        />
      )}
      {drawer.beside &&
        (['x', 'width'] as const).map((key) => (
          <Setting key={key} label={t(`designer.${key}`)}>
            <NumberBox
              label={t(`designer.${key}`)}
              value={drawer.beside![key]}
              onCommit={(value) => set(t(`designer.${key}`), { beside: { ...drawer.beside!, [key]: value } })}
            />
          </Setting>
        ))}
    </>
  );
};
