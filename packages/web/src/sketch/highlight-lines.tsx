import type { SketchColumn } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { useTranslation } from '../i18n/use-translation.ts';
import { NumberBox } from '../ui/commit.tsx';
import { IconButton } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { useParts } from './parts.ts';
import { typeOf } from './words.ts';

/** Colours of numbers that stand out: what is bad, what wants a look, what is good. */
export const SIGNALS = ['#b3402e', '#86601a', '#1f5c4d'] as const;

interface Props {
  column: SketchColumn;
  put: (more: Partial<SketchColumn>) => void;
}

/** Colours for numbers that are below or above a limit. */
export const HighlightLines = ({ column, put }: Props) => {
  const { t } = useTranslation();
  const { sketch, reach } = useParts();
  if (typeOf(sketch, column.name, reach) !== 'number') return null;
  const { highlights = [] } = column;
  const set = (next: typeof highlights): void => put({ highlights: next.length > 0 ? next : undefined });
  return (
    <div className="flex flex-col gap-1">
      {highlights.map((one, i) => {
        const change = (more: Partial<typeof one>): void =>
          set(highlights.map((old, at) => (at === i ? { ...old, ...more } : old)));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: they are told apart by their place
          <div key={i} className="grid grid-cols-[88px_1fr_auto_auto] items-center gap-1.5">
            <Select
              label={t('data.comparison')}
              value={one.is}
              choices={(['less', 'greater'] as const).map((is) => ({ value: is, label: t(`data.is_${is}`) }))}
              onPick={(is) => change({ is })}
            />
            <NumberBox
              label={t('sketch.limit')}
              unit=""
              least={-1e15}
              most={1e15}
              value={one.to}
              onCommit={(to) => change({ to })}
            />
            <span className="flex gap-0.5">
              {SIGNALS.map((color) => (
                <button
                  key={color}
                  type="button"
                  aria-label={t('sketch.colour', { color })}
                  aria-pressed={color === one.color}
                  className={`size-5 rounded-full border-2 ${color === one.color ? 'border-ink' : 'border-transparent'}`}
                  style={{ background: color }}
                  onClick={() => change({ color })}
                />
              ))}
            </span>
            <IconButton label={t('sketch.removeColour')} onClick={() => set(highlights.filter((_, at) => at !== i))}>
              <X size={14} />
            </IconButton>
          </div>
        );
      })}
      {highlights.length < 10 && (
        <div className="flex gap-1">
          {(['less', 'greater'] as const).map((is) => (
            <button
              key={is}
              type="button"
              className="rounded px-1 text-pine hover:bg-pine-soft"
              onClick={() => set([...highlights, { is, to: 0, color: is === 'less' ? SIGNALS[0] : SIGNALS[2] }])}
            >
              + {t(`sketch.colour_${is}`)}
            </button>
          ))}
        </div>
      )}
    </div>
  );
};
