import { findItem, formulaFacts, type ItemOf } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { useBoardWords } from '../../design/board-words.ts';
import { useDesign } from '../../design/context.ts';
import { frameLook, hasRoom, lookOf, textLook } from '../../design/looks.ts';
import { ByFormula, quoted } from '../../settings/by-formula.tsx';
import { FormatPicker } from '../../settings/format-picker.tsx';
import { formatKind } from '../../settings/formats.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { shared } from '../../settings/item-context.ts';
import { OwnFormula } from '../../settings/own-formula.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { WordsLook } from '../../settings/words-look.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';
import { TotalSettings } from './total-settings.tsx';

/** How the values of several fields are shown, when they are all numbers or all dates. */
const SharedContent = ({ chosen }: { chosen: Chosen }) => {
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

const Content = ({ item, chosen }: { item: ItemOf<'field'>; chosen: Chosen }) => {
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

/** On the board. */
const Board = ({ item, styles, scale }: BoardProps<'field'>) => {
  const look = lookOf(styles, item);
  const words = useBoardWords((s) => s.words[item.id]?.[0]) ?? item.formula;
  return (
    <div
      className={`size-full whitespace-nowrap ${hasRoom(item, words, look, scale) ? '' : 'overflow-hidden'} ${look.background ? '' : 'bg-pine-soft/60'}`}
      style={{ ...textLook(look, scale), ...frameLook(look, scale) }}
    >
      <span className="block">{words}</span>
    </div>
  );
};

export const fieldRoom: ItemRoom<'field'> = { Board, Content, SharedContent, Look: WordsLook, add: null };
