import { findItem, formulaFacts, type Item, type ItemOf, type TurnableKind, turnInto, turnsInto } from '@gaveta/core';
import { Upload } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { Choice, CommitBox } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { Pick } from '../../ui/pick.tsx';
import { PieceSettings } from '../board/chip-panel.tsx';
import { readPicture } from '../board/picture-file.ts';
import { useDesign } from '../context.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { useDesigner } from '../state.ts';
import { BarcodeContent } from './barcode-content.tsx';
import { ByFormula, quoted } from './by-formula.tsx';
import { FormatPicker, formatKind } from './format-picker.tsx';
import { type Chosen, shared } from './item-context.ts';
import { OwnFormula } from './own-formula.tsx';
import { ContentFoot, Section, Setting } from './setting.tsx';
import { SubreportContent } from './subreport-content.tsx';
import { TotalSettings } from './total-settings.tsx';

/** What one item shows, or what several have in common. */
export const ItemContent = ({ chosen }: { chosen: Chosen }) => {
  const [item] = chosen.items;
  if (chosen.items.length > 1) return <SharedFormat chosen={chosen} />;
  return (
    item && (
      <ContentFoot.Provider value={<TurnInto item={item} chosen={chosen} />}>
        <ContentOf item={item} chosen={chosen} />
      </ContentFoot.Provider>
    )
  );
};

/** What else the item could be, with the same value. */
const TurnInto = ({ item, chosen }: { item: Item; chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const kinds = useMemo(() => turnsInto(report, item.id, plan), [report, item.id, plan]);
  if (kinds.length === 0) return null;
  return (
    <Pick
      label={t('designer.turnInto')}
      choices={kinds.map((kind) => ({ value: kind, label: t(`kinds.${kind}`) }))}
      onPick={(kind) => {
        const edit = turnInto(report, item.id, kind as TurnableKind);
        if (edit) chosen.edit(t('edits.turnInto', { kind: t(`kinds.${kind}`).toLowerCase() }), edit);
      }}
    />
  );
};

const ContentOf = ({ item, chosen }: { item: Item; chosen: Chosen }) => {
  switch (item.kind) {
    case 'field':
      return <FieldContent item={item} chosen={chosen} />;
    case 'text':
      return <TextContent item={item} chosen={chosen} />;
    case 'picture':
      return <PictureContent item={item} chosen={chosen} />;
    case 'barcode':
      return <BarcodeContent item={item} chosen={chosen} />;
    case 'check':
      return <CheckContent item={item} chosen={chosen} />;
    case 'subreport':
      return <SubreportContent item={item} chosen={chosen} />;
    case 'line':
    case 'rectangle':
      return null;
    default:
      return item satisfies never;
  }
};

const TextContent = ({ item, chosen }: { item: ItemOf<'text'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.content')} section="content">
      <Button onClick={() => useDesigner.getState().startEditing(item.id)}>{t('designer.editTextNow')}</Button>
      <p className="mt-1 text-[11.5px] text-ink-3">{t('designer.editText')}</p>
      {item.content.map((piece, i) =>
        typeof piece === 'object' && 'formula' in piece ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other identity
          <div key={i} className="mt-1.5">
            <PieceSettings
              value={{ formula: piece.formula, format: piece.format }}
              address={chosen.address}
              onChange={({ formula, format }) => {
                const { format: _, ...rest } = piece;
                const next = formula === '' ? [] : [{ ...rest, formula, ...(format ? { format } : {}) }];
                chosen.set(t('kinds.text'), { content: item.content.toSpliced(i, 1, ...next) });
              }}
            />
          </div>
        ) : null,
      )}
    </Section>
  );
};

/** How the values of several fields are shown, when they are all numbers or all dates. */
const SharedFormat = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const fields = chosen.items.filter((item) => item.kind === 'field');
  if (fields.length < chosen.items.length) return null;
  const kinds = fields.map(({ id, formula }) => {
    const address = findItem(report, id)?.at.address;
    return address ? formatKind(formulaFacts(report, address, formula, plan).type) : null;
  });
  const kind = shared(kinds);
  if (!kind) return null;
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('designer.shownAs')}>
        <FormatPicker
          formula={fields[0]!.formula}
          kind={kind}
          address={findItem(report, fields[0]!.id)!.at.address}
          value={chosen.value('format') as string | undefined}
          onPick={(format) => chosen.set(t('designer.shownAs'), { format })}
        />
      </Setting>
    </Section>
  );
};

const FieldContent = ({ item, chosen }: { item: ItemOf<'field'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const { type, total } = formulaFacts(report, chosen.address, item.formula, plan);
  const kind = formatKind(type);
  return (
    <Section title={t('designer.content')} section="content">
      <OwnFormula label={t('designer.formula')} item={item} chosen={chosen} />
      {total && <TotalSettings item={item} chosen={chosen} />}
      {type !== 'text' && type !== 'picture' && (
        <ByFormula holder={chosen} name="format" label={t('designer.shownAs')} start={quoted(item.format ?? 'General')}>
          <FormatPicker
            formula={item.formula}
            kind={kind}
            address={chosen.address}
            value={item.format}
            onPick={(format) => chosen.set(t('designer.shownAs'), { format })}
          />
        </ByFormula>
      )}
    </Section>
  );
};

/** When a check mark is set. */
const CheckContent = ({ item, chosen }: { item: ItemOf<'check'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.content')} section="content">
      <OwnFormula label={t('check.says')} item={item} chosen={chosen} isCondition />
    </Section>
  );
};

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
      <ByFormula holder={chosen} name="fit" label={t('picture.fit')} start={quoted(item.fit)}>
        <Choice
          label={t('picture.fit')}
          value={item.fit}
          choices={FITS.map((value) => ({ value, label: t(`picture.fit_${value}`) }))}
          onPick={(fit) => chosen.set(t('picture.fit'), { fit })}
        />
      </ByFormula>
      <ByFormula holder={chosen} name="alternative" label={t('picture.alternative')} start={quoted(item.alternative)}>
        <CommitBox
          label={t('picture.alternative')}
          value={item.alternative}
          placeholder={t('picture.alternativeHelp')}
          onCommit={(alternative) => chosen.set(t('picture.alternative'), { alternative })}
        />
      </ByFormula>
    </Section>
  );
};
