import { type Report, styleLook } from '@gaveta/core/internal';
import { Bold, ChevronDown, Italic, Plus, Strikethrough, Underline } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, type RefObject, useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { styleName } from '../../settings/words-look.tsx';
import type { WordLook } from './rich-text.ts';

/** Type sizes that are offered, in points. */
const SIZES = [7, 8, 9, 10, 11, 12, 14, 16, 18, 20, 24, 28, 36, 48] as const;
const FLAGS = [
  ['bold', 'designer.bold', Bold],
  ['italic', 'designer.italic', Italic],
  ['underline', 'look.underline', Underline],
  ['strike', 'look.strike', Strikethrough],
] as const;
/** Of a named style, what words inside a text can have. */
const WORD_KEYS = ['bold', 'italic', 'underline', 'strike', 'color', 'size', 'font'] as const;

interface ToolsProps {
  anchor: RefObject<HTMLDivElement | null>;
  report: Report;
  onFlag: (flag: (typeof FLAGS)[number][0]) => void;
  onLook: (look: WordLook) => void;
  onField: () => void;
  onFormula: () => void;
}

/** Ways of writing, fields and formulas, above the text that is edited. */
export const TextTools = ({ anchor, report, onFlag, onLook, onField, onFormula }: ToolsProps) => {
  const { t } = useTranslation();
  const [corner, setCorner] = useState<{ left: number; top: number } | null>(null);
  useEffect(() => {
    const box = anchor.current!.getBoundingClientRect();
    const top = box.top - 38;
    setCorner({
      left: Math.max(4, Math.min(box.left, window.innerWidth - 460)),
      // Below the text where there is no room above it.
      top: top < 48 ? box.bottom + 6 : top,
    });
  }, [anchor]);
  if (!corner) return null;
  const tool = (label: string, icon: ReactNode, act: () => void) => (
    <button
      key={label}
      type="button"
      aria-label={label}
      title={label}
      className="flex h-6 min-w-6 items-center justify-center gap-1 rounded px-1 hover:bg-desk"
      onPointerDown={(event) => event.preventDefault()}
      onClick={act}
    >
      {icon}
    </button>
  );
  const pick = (label: string, choices: readonly { value: string; label: string }[], act: (value: string) => void) => (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button
          type="button"
          aria-label={label}
          title={label}
          className="flex h-6 items-center gap-0.5 rounded px-1 hover:bg-desk"
        >
          {label} <ChevronDown size={11} aria-hidden />
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="menu z-60 max-h-64 overflow-auto text-[12px]"
          align="start"
          onCloseAutoFocus={(event) => event.preventDefault()}
        >
          {choices.map((c) => (
            <DropdownMenu.Item key={c.value} className="menu-item" onSelect={() => act(c.value)}>
              {c.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
  const dress = (name: string): void => {
    const look = styleLook(report.styles, name);
    onLook(Object.fromEntries(WORD_KEYS.flatMap((key) => (look[key] === undefined ? [] : [[key, look[key]]]))));
  };
  return createPortal(
    <Apart label={t('text.tools')}>
      <div
        role="toolbar"
        aria-label={t('text.tools')}
        className="fixed z-20 flex items-center gap-0.5 rounded-md border border-rule bg-paper p-0.5 text-[12px] shadow-md"
        style={corner}
      >
        {FLAGS.map(([flag, label, Icon]) => tool(t(label), <Icon size={13} aria-hidden />, () => onFlag(flag)))}
        {pick(
          t('designer.size'),
          SIZES.map((size) => ({ value: String(size), label: String(size) })),
          (size) => onLook({ size: Number(size) }),
        )}
        <ColorBox label={t('text.color')} value={undefined} onPick={(color) => onLook({ color })} />
        {Object.keys(report.styles).length > 0 &&
          pick(
            t('look.style'),
            Object.keys(report.styles).map((name) => ({ value: name, label: styleName(t, name) })),
            dress,
          )}
        {tool(
          t('text.insertField'),
          <>
            <Plus size={12} aria-hidden /> {t('text.field')}
          </>,
          onField,
        )}
        {tool(t('text.insertFormula'), <>= {t('text.formula')}</>, onFormula)}
      </div>
    </Apart>,
    document.body,
  );
};

/** What belongs to the text that is edited but stands elsewhere: presses and keys in it are no presses of the board. */
export const Apart = ({ label, children }: { label: string; children: ReactNode }) => {
  const keep = (event: { stopPropagation: () => void }): void => event.stopPropagation();
  return (
    <section aria-label={label} data-text-tools onPointerDown={keep} onDoubleClick={keep} onKeyDown={keep}>
      {children}
    </section>
  );
};
