import type { Look } from '@gaveta/core/internal';
import { Bold, Italic } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { NumberBox, Toggle } from '../../ui/commit.tsx';
import { Setting } from './setting.tsx';

interface Props {
  /** Of which part of the item; of all of it when left out. */
  label?: string;
  look: Look;
  /** A part that is filled, besides its words. */
  hasBackground?: boolean;
  onChange: (look: Look | null) => void;
}

/** The type of what an item writes by itself: size, weight and colour, and what is behind it. */
export const ItemType = ({ label, look, hasBackground = false, onChange }: Props) => {
  const { t } = useTranslation();
  const name = label ?? t('look.type');
  const of = (what: string): string => (label ? `${label}: ${what}` : what);
  const put = (next: { [K in keyof Look]: Look[K] | null | undefined }): void => {
    const all = Object.entries({ ...look, ...next }).filter(([, value]) => value !== null && value !== undefined);
    onChange(all.length > 0 ? (Object.fromEntries(all) as Look) : null);
  };
  return (
    <Setting label={name} wide={hasBackground}>
      <span className="flex min-w-0 flex-wrap items-center gap-1">
        <span className="w-11 flex-none">
          <NumberBox
            label={of(t('designer.size'))}
            unit=""
            value={look.size}
            least={4}
            most={72}
            onCommit={(size) => put({ size })}
            onClear={() => put({ size: null })}
          />
        </span>
        <Toggle
          label={of(t('designer.bold'))}
          on={look.bold ?? false}
          onClick={() => put({ bold: !look.bold || null })}
        >
          <Bold size={13} />
        </Toggle>
        <Toggle
          label={of(t('designer.italic'))}
          on={look.italic ?? false}
          onClick={() => put({ italic: !look.italic || null })}
        >
          <Italic size={13} />
        </Toggle>
        <ColorBox
          label={of(t('designer.color'))}
          value={look.color}
          onPick={(color) => put({ color })}
          onClear={() => put({ color: null })}
        />
        {hasBackground && (
          <ColorBox
            label={of(t('look.background'))}
            value={look.background}
            onPick={(background) => put({ background })}
            onClear={() => put({ background: null })}
          />
        )}
      </span>
    </Setting>
  );
};
