import { formulaFacts, type ItemOf, type TotalFacts } from '@gaveta/core';
import { useQuery } from '@tanstack/react-query';
import type { TFunction } from 'i18next';
import { Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { useNavigate } from 'react-router';
import { api } from '../../api/client.ts';
import { Choice, CommitBox } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { readPicture } from '../board/picture-file.ts';
import { useDesign } from '../context.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { useDesigner } from '../state.ts';
import { FormatPicker } from './format-picker.tsx';
import type { Chosen } from './item-context.ts';
import { Section, Setting } from './setting.tsx';

/** What one item shows. */
export const ItemContent = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (!item || chosen.items.length > 1) return null;
  switch (item.kind) {
    case 'field':
      return <FieldContent item={item} chosen={chosen} />;
    case 'text':
      return (
        <Section title={t('designer.content')} section="content">
          <Button onClick={() => useDesigner.getState().startEditing(item.id)}>{t('designer.editTextNow')}</Button>
          <p className="mt-1 text-[11.5px] text-ink-3">{t('designer.editText')}</p>
        </Section>
      );
    case 'picture':
      return <PictureContent item={item} chosen={chosen} />;
    case 'subreport':
      return <SubreportContent item={item} chosen={chosen} />;
    case 'line':
    case 'rectangle':
      return null;
    default:
      return item satisfies never;
  }
};

const FieldContent = ({ item, chosen }: { item: ItemOf<'field'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const { type, total } = formulaFacts(report, chosen.address, item.formula, plan);
  const kind = type === 'number' ? 'number' : type === 'date' || type === 'datetime' ? 'date' : null;
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('designer.formula')} wide>
        <FormulaBox
          key={item.id}
          label={t('designer.formula')}
          setting="formula"
          value={item.formula}
          address={chosen.address}
          format={item.format}
          attempt={(formula) => ({ do: 'set', items: [item.id], settings: { formula } })}
          onCommit={(formula) => chosen.set(t('designer.formula'), { formula })}
        />
      </Setting>
      {total && (
        <p className="text-[11.5px] text-ink-2" data-testid="total-words">
          {totalWords(t, total)}
        </p>
      )}
      {type !== 'text' && type !== 'picture' && (
        <Setting label={t('designer.shownAs')}>
          <FormatPicker
            formula={item.formula}
            kind={kind}
            address={chosen.address}
            value={item.format}
            onPick={(format) => chosen.set(t('designer.shownAs'), { format })}
          />
        </Setting>
      )}
    </Section>
  );
};

/** Which rows a total counts, by where it stands. */
const totalWords = (t: TFunction, { over, drawer, group, outer }: TotalFacts): string =>
  over === 'set' && outer === null
    ? t('formula.over_report')
    : t(`formula.over_${over}`, { drawer, group: group ?? '', outer: outer ?? '' });

const FITS = ['whole', 'fill', 'stretch', 'real'] as const;

const PictureContent = ({ item, chosen }: { item: ItemOf<'picture'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const file = useRef<HTMLInputElement>(null);
  const [failure, setFailure] = useState<string | null>(null);
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('picture.file')}>
        <span>
          <Button onClick={() => file.current?.click()}>
            <Upload size={13} aria-hidden /> {t(item.source ? 'picture.replace' : 'picture.choose')}
          </Button>
          <input
            ref={file}
            type="file"
            accept="image/*"
            hidden
            aria-label={t('picture.choose')}
            onChange={async (event) => {
              const [chosenFile] = event.target.files ?? [];
              event.target.value = '';
              if (!chosenFile) return;
              const read = await readPicture(t, chosenFile);
              if ('problem' in read) {
                setFailure(read.problem);
                return;
              }
              setFailure(null);
              chosen.set(t('kinds.picture'), { source: read.source, formula: null });
            }}
          />
        </span>
      </Setting>
      {failure && (
        <p role="alert" className="text-rust">
          {failure}
        </p>
      )}
      <Setting label={t('picture.fromField')} wide>
        <FormulaBox
          key={item.id}
          label={t('picture.fromField')}
          setting="formula"
          value={item.formula ?? ''}
          address={chosen.address}
          placeholder={t('picture.fieldExample')}
          onCommit={(formula) =>
            chosen.set(t('kinds.picture'), formula.trim() === '' ? { formula: null } : { formula, source: null })
          }
        />
      </Setting>
      <Setting label={t('picture.fit')}>
        <Choice
          label={t('picture.fit')}
          value={item.fit}
          choices={FITS.map((value) => ({ value, label: t(`picture.fit_${value}`) }))}
          onPick={(fit) => chosen.set(t('picture.fit'), { fit })}
        />
      </Setting>
      <Setting label={t('picture.alternative')}>
        <CommitBox
          label={t('picture.alternative')}
          value={item.alternative}
          placeholder={t('picture.alternativeHelp')}
          onCommit={(alternative) => chosen.set(t('picture.alternative'), { alternative })}
        />
      </Setting>
    </Section>
  );
};

const SubreportContent = ({ item, chosen }: { item: ItemOf<'subreport'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
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
  const { entities } = useDesign();
  const entity = chosen.address.drawer === null ? undefined : entities.get(chosen.address.drawer);
  const reachable = entity?.fields.map((f) => f.name) ?? [];
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
      {known && (
        <Button className="mt-1.5" onClick={() => navigate(`../${item.report}/design`, { relative: 'path' })}>
          {t('subreport.open')}
        </Button>
      )}
    </Section>
  );
};
