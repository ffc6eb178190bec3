import { isWords, type Link, linksFor } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { api } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { ByFormula, CheckByFormula, quoted } from '../settings/by-formula.tsx';
import type { Chosen } from '../settings/item-context.ts';
import { ParameterLinks } from '../settings/parameter-links.tsx';
import { Section, Setting } from '../settings/setting.tsx';

/** When an item is there, how it takes room, and where it leads. */
export const ItemPaging = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const { items, value, set, address } = chosen;
  const textFit = value('fit') === 'shrink' ? 'shrink' : 'wrap';
  const areWords = items.every(isWords);
  const formula = (key: 'showIf' | 'anchor' | 'indent', isCondition = false, placeholder?: string) => (
    <Setting label={t(`paging.${key}`)} wide>
      <FormulaBox
        label={t(`paging.${key}`)}
        value={(value(key) as string | undefined) ?? ''}
        address={address}
        isCondition={isCondition}
        placeholder={placeholder}
        onCommit={(text) => set(t(`paging.${key}`), { [key]: text.trim() === '' ? null : text })}
      />
    </Setting>
  );
  return (
    <Section
      title={t('designer.paging')}
      section="paging"
      more={
        <>
          {items.length === 1 && <LinkSetting chosen={chosen} />}
          {formula('anchor')}
          {areWords && formula('indent')}
          {areWords && (
            <ByFormula holder={chosen} name="outline" label={t('paging.outline')} start={String(value('outline') ?? 1)}>
              <Select
                label={t('paging.outline')}
                value={String(value('outline') ?? '')}
                choices={['', '1', '2', '3', '4', '5', '6'].map((level) => ({
                  value: level,
                  label: level === '' ? t('paging.noOutline') : t('paging.outlineLevel', { level }),
                }))}
                onPick={(level) => set(t('paging.outline'), { outline: level === '' ? null : Number(level) })}
              />
            </ByFormula>
          )}
        </>
      }
    >
      {formula('showIf', true, t('paging.always'))}
      {areWords && (
        <>
          <CheckByFormula
            holder={chosen}
            name="grow"
            label={t('paging.grow')}
            checked={(value('grow') as boolean | undefined) ?? true}
            onChange={(on) => set(t('paging.grow'), { grow: on ? null : false })}
          />
          <CheckByFormula
            holder={chosen}
            name="shrink"
            label={t('paging.shrink')}
            checked={(value('shrink') as boolean | undefined) ?? false}
            onChange={(on) => set(t('paging.shrink'), { shrink: on || null })}
          />
          <ByFormula holder={chosen} name="fit" label={t('paging.fit')} start={quoted(textFit)}>
            <Select
              label={t('paging.fit')}
              value={textFit}
              choices={(['wrap', 'shrink'] as const).map((fit) => ({ value: fit, label: t(`paging.fit_${fit}`) }))}
              onPick={(fit) => set(t('paging.fit'), { fit: fit === 'wrap' ? null : fit })}
            />
          </ByFormula>
        </>
      )}
    </Section>
  );
};

const kindOf = (link: Link | undefined): 'none' | 'address' | 'anchor' | 'report' =>
  !link ? 'none' : 'report' in link ? 'report' : 'address' in link ? 'address' : 'anchor';

/** Where a click on the item leads. */
const LinkSetting = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const link = chosen.items[0]!.link;
  const kind = kindOf(link);
  const reports = useQuery(queries.reports());
  const wanted = link && 'report' in link ? link.report : null;
  const target = useQuery({ ...queries.otherReport(wanted ?? ''), enabled: wanted !== null });
  const put = (next: Link | null): void => chosen.set(t('paging.link'), { link: next });
  const leadTo = async (id: string): Promise<void> => {
    const { definition } = await api.report(id);
    put({ report: id, parameters: linksFor(report, chosen.address, definition.parameters, plan) });
  };
  return (
    <>
      <Setting label={t('paging.link')}>
        <Select
          label={t('paging.link')}
          value={kind}
          choices={(['none', 'address', 'anchor', 'report'] as const).map((k) => ({
            value: k,
            label: t(`paging.link_${k}`),
          }))}
          onPick={(next) => {
            const [first] = reports.data ?? [];
            if (next === 'none') put(null);
            else if (next === 'report') void (first ? leadTo(first.id) : put(null));
            else put(next === 'address' ? { address: '"https://"' } : { anchor: '""' });
          }}
        />
      </Setting>
      {link && 'report' in link && (
        <Setting label={t('kinds.report')}>
          <Select
            label={t('kinds.report')}
            value={link.report}
            choices={(reports.data ?? []).map((r) => ({ value: r.id, label: r.name }))}
            onPick={(id) => void leadTo(id)}
          />
        </Setting>
      )}
      {link && 'report' in link && target.data && (
        <ParameterLinks
          parameters={target.data.definition.parameters}
          links={link.parameters}
          address={chosen.address}
          item={chosen.items[0]!.id}
          path="link/parameters"
          onChange={(parameters) => put({ ...link, parameters })}
        />
      )}
      {link && !('report' in link) && (
        <Setting label={t(`paging.link_${kind}`)} wide>
          <FormulaBox
            label={t(`paging.link_${kind}`)}
            value={'address' in link ? link.address : link.anchor}
            address={chosen.address}
            onCommit={(text) => put('address' in link ? { address: text } : { anchor: text })}
          />
        </Setting>
      )}
    </>
  );
};
