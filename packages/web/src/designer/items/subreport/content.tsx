import { type ItemOf, linksFor, nestedAtFirst, nestingRows, newDrawer, type Report } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { api, type StoredReport } from '../../../api/client.ts';
import { queries } from '../../../api/queries.ts';
import { useThemes } from '../../../api/use-themes.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Button } from '../../../ui/controls.tsx';
import { useFailureText } from '../../../ui/failure.tsx';
import { NameForm } from '../../../ui/name-form.tsx';
import { Select } from '../../../ui/select.tsx';
import { blank } from '../../design/blank-report.ts';
import { useDesign } from '../../design/context.ts';
import { type Outer, outerOf } from '../../design/outer.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { ParameterLinks } from '../../settings/parameter-links.tsx';
import { Section, Setting } from '../../settings/setting.tsx';

/** Which report is nested here, and what its parameters get. */
export const SubreportContent = ({ item, chosen }: { item: ItemOf<'subreport'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const location = useLocation();
  const client = useQueryClient();
  const said = useFailureText();
  const [naming, setNaming] = useState(false);
  const around = useRelationsAround(chosen);
  /** The relation whose rows a new report shows; null for none. */
  const [newRows, setNewRows] = useState<string | null>(null);
  const relation = around.find((r) => r.name === (newRows ?? around[0]?.name));
  const { report, plan } = useDesign();
  const reports = useQuery(queries.reports());
  const nestable = useNestable(reports.data);
  const child = useQuery({ ...queries.otherReport(item.report), enabled: item.report !== '?' });
  const parameters = child.data?.definition.parameters ?? [];
  const isKnown = reports.data?.some((r) => r.id === item.report) ?? false;
  const pick = async (id: string): Promise<void> => {
    const { definition } = await api.report(id);
    const first = nestedAtFirst(report, chosen.address, definition, plan);
    const links = {
      ...linksFor(report, chosen.address, definition.parameters, plan),
      ...first.links,
      ...known(definition, item.links),
    };
    chosen.set(t('kinds.subreport'), { report: id, links, rows: first.rows });
  };
  const open = (id: string): void => {
    const outer: Outer = { path: location.pathname, name: report.name, outer: outerOf(location.state) };
    void navigate(`/reports/${id}/design`, { state: { outer } });
  };
  const themes = useThemes();
  const make = useMutation({
    mutationFn: (name: string) => {
      const words = { page: t('start.page'), of: t('start.of'), total: t('start.total') };
      const made: Report = {
        ...blank(name, words, report.language, report.timeZone, themes),
        ...(report.model === undefined ? {} : { model: report.model }),
      };
      return api.create(relation ? { ...made, body: [newDrawer(made, { entity: relation.to }, relation.to)] } : made);
    },
    onSuccess: async ({ id }) => {
      setNaming(false);
      await client.invalidateQueries(queries.reports());
      const rows = relation ? { relation: relation.name } : null;
      chosen.set(t('kinds.subreport'), { report: id, links: {}, rows });
    },
  });
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('subreport.which')}>
        <Select
          label={t('subreport.which')}
          value={isKnown ? item.report : undefined}
          blank={t('subreport.choose')}
          choices={nestable.map((r) => ({ value: r.id, label: r.name }))}
          onPick={(id) => void pick(id)}
        />
      </Setting>
      {child.data && <SharedRows item={item} chosen={chosen} inner={child.data.definition} />}
      <ParameterLinks
        parameters={parameters}
        links={item.links}
        address={chosen.address}
        item={item.id}
        path="links"
        onChange={(links) => chosen.set(t('subreport.links'), { links })}
      />
      {child.data && parameters.length === 0 && <p className="text-ink-3">{t('subreport.noParameters')}</p>}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {isKnown && <Button onClick={() => open(item.report)}>{t('subreport.open')}</Button>}
        {!naming && (
          <Button look="quiet" onClick={() => setNaming(true)}>
            {t('subreport.make')}
          </Button>
        )}
      </div>
      {naming && around.length > 0 && (
        <Setting label={t('subreport.newRows')}>
          <Select
            label={t('subreport.newRows')}
            value={relation?.name ?? ''}
            choices={[
              ...around.map((r) => ({ value: r.name, label: t('subreport.rowsOf', { label: r.label, row: r.row }) })),
              { value: '', label: t('subreport.newBlank') },
            ]}
            onPick={setNewRows}
          />
        </Setting>
      )}
      {naming && (
        <NameForm
          label={t('subreport.makeName')}
          action={t('subreport.makeIt')}
          isBusy={make.isPending}
          onName={(name) => make.mutate(name)}
          onCancel={() => setNaming(false)}
        />
      )}
      {make.error && (
        <p role="alert" className="text-rust">
          {said(make.error).detail}
        </p>
      )}
    </Section>
  );
};

/** The relations to many rows from the row of the band that an item stands in, with what that row is called. */
const useRelationsAround = ({ address }: Chosen) => {
  const { entities } = useDesign();
  const entity = address.drawer === null ? undefined : entities.get(address.drawer);
  const hasRow =
    address.drawer !== null &&
    address.group === undefined &&
    (address.band === 'detail' || address.band === 'detailFooter');
  const row = entity?.label.toLowerCase() ?? '';
  return hasRow ? (entity?.relations ?? []).filter(({ kind }) => kind === 'many').map((r) => ({ ...r, row })) : [];
};

/** The reports that may be nested here: not this one itself, nor one that it is nested in. */
const useNestable = (reports: readonly StoredReport[] = []): readonly StoredReport[] => {
  const { id } = useParams();
  const users = useQuery({ ...queries.reportUsers(id ?? ''), enabled: id !== undefined });
  const around = new Set([id, ...(users.data ?? []).flatMap((user) => (user.how === 'links' ? [] : [user.id]))]);
  return reports.filter((report) => report.kind === 'report' && !around.has(report.id));
};

/** Of links that were made before, those whose parameter this report has too. */
const known = (inner: Report, links: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(Object.entries(links).filter(([name]) => inner.parameters.some((p) => p.name === name)));

interface SharedRowsProps {
  item: ItemOf<'subreport'>;
  chosen: Chosen;
  inner: Report;
}

/** Whose rows the nested report shows: its own, those that a relation leads to from the row, or the row itself. */
const SharedRows = ({ item, chosen, inner }: SharedRowsProps) => {
  const { t } = useTranslation();
  const { entities, report, plan } = useDesign();
  const { drawer } = chosen.address;
  const row = (drawer === null ? '' : (entities.get(drawer)?.label ?? '')).toLowerCase();
  const { relations, sharesRow } = nestingRows(report, chosen.address, inner, plan);
  if (relations.length === 0 && !sharesRow && item.rows === undefined) return null;
  const value = item.rows === undefined ? '' : item.rows === 'current' ? '=' : item.rows.relation;
  return (
    <Setting label={t('subreport.rows')}>
      <Select
        label={t('subreport.rows')}
        value={value}
        choices={[
          ...relations.map((r) => ({ value: r.name, label: t('subreport.rowsOf', { label: r.label, row }) })),
          ...(sharesRow || value === '=' ? [{ value: '=', label: t('subreport.currentRow', { row }) }] : []),
          { value: '', label: t('subreport.ownRows') },
        ]}
        onPick={(next) =>
          chosen.set(t('subreport.rows'), { rows: next === '' ? null : next === '=' ? 'current' : { relation: next } })
        }
      />
    </Setting>
  );
};
