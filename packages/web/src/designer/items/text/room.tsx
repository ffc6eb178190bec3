import { type ItemOf, pieceWords } from '@gaveta/core/internal';
import { Type } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Button } from '../../../ui/controls.tsx';
import { useBoardWords } from '../../design/board-words.ts';
import { frameLook, hasRoom, lookOf, textLook } from '../../design/looks.ts';
import { useDesigner } from '../../design/state.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { Section } from '../../settings/setting.tsx';
import { WordsLook } from '../../settings/words-look.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';
import { PieceSettings } from './chip-panel.tsx';
import { TextEditor } from './text-editor.tsx';

const Content = ({ item, chosen }: { item: ItemOf<'text'>; chosen: Chosen }) => {
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

/** On the board. */
const Board = ({ item, styles, scale }: BoardProps<'text'>) => {
  const look = lookOf(styles, item);
  const words = useBoardWords((s) => s.words[item.id]);
  /** Place of each piece among those that are formulas. */
  const places = item.content.map(
    (_, i) => item.content.slice(0, i).filter((piece) => typeof piece === 'object' && 'formula' in piece).length,
  );
  const wordsOf = (piece: (typeof item.content)[number], i: number): string =>
    typeof piece === 'string' ? piece : (('formula' in piece ? words?.[places[i]!] : undefined) ?? pieceWords(piece));
  const isPlain = !item.content.some((piece) => typeof piece === 'object' && piece.look);
  const isWithin = isPlain && hasRoom(item, item.content.map(wordsOf).join(''), look, scale);
  return (
    <div
      className={`size-full ${isWithin ? '' : 'overflow-hidden'}`}
      style={{ ...textLook(look, scale), ...frameLook(look, scale) }}
    >
      <div className="whitespace-pre-wrap">
        {item.content.map((piece, i) =>
          typeof piece === 'string' ? (
            piece
          ) : (
            <span
              // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other identity
              key={i}
              className={'formula' in piece ? 'rounded-sm bg-pine-soft/80 text-chip' : undefined}
              style={piece.look && textLook({ ...look, ...piece.look }, scale)}
            >
              {wordsOf(piece, i)}
            </span>
          ),
        )}
      </div>
    </div>
  );
};

export const textRoom: ItemRoom<'text'> = {
  Board,
  Content,
  Look: WordsLook,
  Editor: TextEditor,
  add: { id: 'text', icon: Type, words: 'newText', typing: true },
};
