import type { BandAddress, Highlight, Look } from '@gaveta/core/internal';
import { Bold, Italic, Plus, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { Toggle } from '../../ui/commit.tsx';
import { IconButton } from '../../ui/controls.tsx';
import { useDesign } from '../design/context.ts';
import { FormulaBox, type FormulaPlace } from '../formula/formula-box.tsx';
import type { Chosen } from './item-context.ts';
import { Setting } from './setting.tsx';

/** How many times each condition holds, and of how many; null until it is worked out. */
const useHits = (
  address: BandAddress | FormulaPlace,
  conditions: readonly string[],
): { hits: number; count: number }[] | null => {
  const {
    report,
    live: { probe },
  } = useDesign();
  const [found, setFound] = useState<{ hits: number; count: number }[] | null>(null);
  const asked = JSON.stringify([address, conditions]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what is asked; edits elsewhere hardly change it
  useEffect(() => {
    if (conditions.length === 0 || 'completions' in address) return;
    let isOver = false;
    setFound(null);
    void probe(
      report,
      address,
      conditions.map((formula) => ({ formula: `IF(${formula || 'FALSE()'}; 1; 0)` })),
    ).then(({ values }) => {
      if (!isOver) setFound(values.map((v) => ({ hits: v.filter((x) => x === '1').length, count: v.length })));
    });
    return () => {
      isOver = true;
    };
  }, [asked, probe]);
  return found;
};

/** Looks by condition, with how many rows each one hits. */
export const HighlightRules = ({
  highlights,
  address,
  onChange,
  isBand = false,
}: {
  highlights: readonly Highlight[];
  address: BandAddress | FormulaPlace;
  onChange: (highlights: Highlight[]) => void;
  /** A band has a background alone. */
  isBand?: boolean;
}) => {
  const { t } = useTranslation();
  const hits = useHits(
    address,
    highlights.map((h) => h.when),
  );
  return (
    <div className="flex flex-col gap-1.5">
      {highlights.map((rule, i) => {
        const put = (next: Highlight | null): void =>
          onChange(highlights.flatMap((old, at) => (at === i ? (next ?? []) : old)));
        const setLook = (look: { [K in keyof Look]: Look[K] | null }): void => {
          const next = Object.fromEntries(Object.entries({ ...rule.look, ...look }).filter(([, v]) => v !== null));
          put({ ...rule, look: next });
        };
        const flag = (key: 'bold' | 'italic'): boolean => rule.look?.[key] ?? false;
        const hit = hits?.[i];
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: rules are told apart by their place
          <div key={i} className="rounded border border-rule-soft p-1.5">
            <FormulaBox
              label={t('look.highlightWhen', { number: i + 1 })}
              value={rule.when}
              address={address}
              isCondition
              placeholder={t('look.highlightExample')}
              onCommit={(when) => put({ ...rule, when })}
            />
            <div className="mt-1 flex items-center gap-1">
              {!isBand && (
                <>
                  <ColorBox
                    label={t('designer.color')}
                    value={rule.look?.color}
                    onPick={(color) => setLook({ color })}
                    onClear={() => setLook({ color: null })}
                  />
                  <Toggle label={t('designer.bold')} on={flag('bold')} onClick={() => setLook({ bold: !flag('bold') })}>
                    <Bold size={13} />
                  </Toggle>
                  <Toggle
                    label={t('designer.italic')}
                    on={flag('italic')}
                    onClick={() => setLook({ italic: !flag('italic') })}
                  >
                    <Italic size={13} />
                  </Toggle>
                </>
              )}
              <ColorBox
                label={t('look.background')}
                value={rule.look?.background}
                onPick={(background) => setLook({ background })}
                onClear={() => setLook({ background: null })}
              />
              <label className="flex items-center gap-1 text-[11.5px]">
                <input
                  type="checkbox"
                  checked={rule.hide ?? false}
                  onChange={(event) => put({ ...rule, hide: event.target.checked || undefined })}
                />
                {t('look.hide')}
              </label>
              <IconButton label={t('look.removeHighlight', { number: i + 1 })} onClick={() => put(null)}>
                <X size={13} />
              </IconButton>
            </div>
            {hit && rule.when.trim() !== '' && (
              <p className="text-[11.5px] text-ink-3" data-testid="highlight-hits">
                {t('formula.hits', hit)}
              </p>
            )}
          </div>
        );
      })}
      <button
        type="button"
        className="flex items-center gap-1 self-start rounded px-1 text-pine hover:bg-pine-soft"
        onClick={() =>
          onChange([
            ...highlights,
            { when: '', look: isBand ? { background: '#f7e0d9' } : { color: '#b3402e', bold: true } },
          ])
        }
      >
        <Plus size={12} aria-hidden /> {t('look.addHighlight')}
      </button>
    </div>
  );
};

/** The highlights of one text. */
export const Highlights = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (!item || (item.kind !== 'text' && item.kind !== 'field')) return null;
  return (
    <Setting label={t('look.highlights')} wide>
      <HighlightRules
        highlights={item.highlights ?? []}
        address={chosen.address}
        onChange={(next) => chosen.set(t('look.highlights'), { highlights: next.length > 0 ? next : null })}
      />
    </Setting>
  );
};
