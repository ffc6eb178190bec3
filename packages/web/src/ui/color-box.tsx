import { Slash } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useTranslation } from '../i18n/use-translation.ts';
import { CommitBox } from './commit.tsx';
import { Panel } from './panel.tsx';

/** Quiet ones first, then strong ones, dark to light in each row. */
const COLOURS = [
  ['#1f2a2e', '#55605f', '#8a938f', '#c9cdc6', '#eceae2', '#ffffff'],
  ['#1f5c4d', '#2f8069', '#7db59f', '#b9d8c9', '#dcebe3', '#eff6f2'],
  ['#7a5410', '#b98524', '#d8b266', '#ecd7a6', '#f3e6c8', '#fbf5e6'],
  ['#86301f', '#b3402e', '#d88472', '#ecbcb0', '#f7e0d9', '#fcf1ee'],
  ['#26365c', '#2b6f93', '#6fa3bf', '#b3d0df', '#d9e8ef', '#f1f6f9'],
] as const;

interface ColorProps {
  label: string;
  value: string | undefined;
  onPick: (color: string) => void;
  /** Offers to have no colour. */
  onClear?: (() => void) | undefined;
}

/** A colour from a small set that goes together, or any other. */
export const ColorBox = ({ label, value, onPick, onClear }: ColorProps) => {
  const { t } = useTranslation();
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`${label}: ${value ?? t('look.none')}`}
          title={label}
          className="grid h-[26px] w-9 flex-none place-items-center rounded border border-rule bg-paper"
        >
          {value ? (
            <span className="h-4 w-6 rounded-sm border border-rule" style={{ background: value }} />
          ) : (
            <Slash size={14} className="text-ink-3" aria-hidden />
          )}
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className="w-[204px] p-2">
        <div className="grid grid-cols-6 gap-1">
          {COLOURS.flat().map((color) => (
            <Popover.Close asChild key={color}>
              <button
                type="button"
                aria-label={color}
                className={`size-7 rounded border ${value === color ? 'border-2 border-ink' : 'border-rule'}`}
                style={{ background: color }}
                onClick={() => onPick(color)}
              />
            </Popover.Close>
          ))}
        </div>
        <div className="mt-2 flex items-center gap-1">
          <input
            type="color"
            aria-label={t('look.anyColor')}
            className="h-[26px] w-9 flex-none rounded border border-rule bg-paper p-0.5"
            value={value ?? '#ffffff'}
            onChange={(event) => onPick(event.target.value)}
          />
          <CommitBox
            label={t('look.colorCode')}
            mono
            value={value ?? ''}
            onCommit={(text) => {
              const code = text.startsWith('#') ? text : `#${text}`;
              if (/^#[0-9a-fA-F]{6}$/.test(code)) onPick(code.toLowerCase());
            }}
          />
        </div>
        {onClear && (
          <Popover.Close asChild>
            <button
              type="button"
              className="mt-1.5 rounded px-1.5 py-0.5 text-pine hover:bg-pine-soft"
              onClick={onClear}
            >
              {t('look.noColor')}
            </button>
          </Popover.Close>
        )}
      </Panel>
    </Popover.Root>
  );
};
