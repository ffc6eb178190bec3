import type { ItemOf } from '@gaveta/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useTranslation } from 'react-i18next';
import { useLocation, useNavigate } from 'react-router';
import { api } from '../../api/client.ts';
import { blank } from '../../start/choices.ts';
import { Choice } from '../../ui/commit.tsx';
import { Button, inputLook } from '../../ui/controls.tsx';
import { useFailureText } from '../../ui/failure.tsx';
import { useDesign } from '../context.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { type Outer, outerOf } from '../outer.ts';
import type { Chosen } from './item-context.ts';
import { Section, Setting } from './setting.tsx';

/** Which report is nested here, and what its parameters get. */
export const SubreportContent = ({ item, chosen }: { item: ItemOf<'subreport'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const location = useLocation();
  const queries = useQueryClient();
  const said = useFailureText();
  const [naming, setNaming] = useState(false);
  const { entities, report } = useDesign();
  const reports = useQuery({ queryKey: ['reports'], queryFn: api.reports });
  const child = useQuery({
    queryKey: ['report', item.report, 'nested'],
    queryFn: () => api.report(item.report),
    enabled: item.report !== '?',
    retry: false,
  });
  const parameters = child.data?.definition.parameters ?? [];
  const known = reports.data?.some((r) => r.id === item.report) ?? false;
  const pick = async (id: string): Promise<void> => {
    const { definition } = await api.report(id);
    chosen.set(t('kinds.subreport'), {
      report: id,
      links: matchedLinks(
        definition.parameters.map((p) => p.name),
        item.links,
      ),
    });
  };
  const matchedLinks = (names: readonly string[], given: Record<string, string>): Record<string, string> => {
    const inReach = new Set(reachable);
    return Object.fromEntries(
      names.flatMap((name) => {
        const formula = given[name] ?? (inReach.has(name) ? name : undefined);
        return formula === undefined ? [] : [[name, formula]];
      }),
    );
  };
  const entity = chosen.address.drawer === null ? undefined : entities.get(chosen.address.drawer);
  const reachable = entity?.fields.map((f) => f.name) ?? [];
  const open = (id: string): void => {
    const outer: Outer = { path: location.pathname, name: report.name, outer: outerOf(location.state) };
    const base = location.pathname.startsWith('/embed/') ? '/embed' : '';
    void navigate(`${base}/reports/${id}/design`, { state: { outer } });
  };
  const make = useMutation({
    mutationFn: (name: string) => {
      const words = { page: t('start.page'), of: t('start.of'), total: t('start.total') };
      return api.create({
        ...blank(name, words, report.language, report.timeZone),
        ...(report.model === undefined ? {} : { model: report.model }),
      });
    },
    onSuccess: async ({ id }) => {
      setNaming(false);
      await queries.invalidateQueries({ queryKey: ['reports'] });
      await pick(id);
    },
  });
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('subreport.which')}>
        <Choice
          label={t('subreport.which')}
          value={known ? item.report : undefined}
          blank={t('subreport.choose')}
          choices={(reports.data ?? []).map((r) => ({ value: r.id, label: r.name }))}
          onPick={(id) => void pick(id)}
        />
      </Setting>
      {parameters.map((p) => {
        const formula = item.links[p.name];
        return (
          <Setting key={p.name} label={p.label} wide>
            <FormulaBox
              label={t('subreport.link', { name: p.label })}
              value={formula ?? ''}
              address={chosen.address}
              placeholder={t(p.required ? 'subreport.needed' : 'subreport.optional')}
              onCommit={(text) => {
                const { [p.name]: _, ...others } = item.links;
                chosen.set(t('subreport.links'), {
                  links: text.trim() === '' ? others : { ...others, [p.name]: text },
                });
              }}
            />
          </Setting>
        );
      })}
      {child.data && parameters.length === 0 && <p className="text-ink-3">{t('subreport.noParameters')}</p>}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {known && <Button onClick={() => open(item.report)}>{t('subreport.open')}</Button>}
        {!naming && (
          <Button look="quiet" onClick={() => setNaming(true)}>
            {t('subreport.make')}
          </Button>
        )}
      </div>
      {naming && (
        <form
          className="mt-1.5 flex gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            const name = String(new FormData(event.currentTarget).get('name') ?? '').trim();
            if (name !== '') make.mutate(name);
          }}
        >
          <input
            name="name"
            // biome-ignore lint/a11y/noAutofocus: it comes when it is asked for
            autoFocus
            className={inputLook}
            aria-label={t('subreport.makeName')}
            placeholder={t('subreport.makeName')}
            onKeyDown={(event) => event.key === 'Escape' && setNaming(false)}
          />
          <Button type="submit" disabled={make.isPending}>
            {t('subreport.makeIt')}
          </Button>
        </form>
      )}
      {make.error && (
        <p role="alert" className="text-rust">
          {said(make.error).detail}
        </p>
      )}
    </Section>
  );
};
