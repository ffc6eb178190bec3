import { Check, ChevronDown } from 'lucide-react';
import { Select as Box } from 'radix-ui';
import { inputLook } from './controls.tsx';

export interface SelectChoice<V extends string> {
  value: V;
  label: string;
  /** Choices of the same group stand together under its name. */
  group?: string;
  /** Language of the label, as a BCP 47 tag, where it is not that of the interface. */
  lang?: string;
}

interface SelectProps<V extends string> {
  /** Its accessible name; may be left out inside a `<label>`. */
  label?: string;
  value: V | undefined;
  choices: readonly SelectChoice<V>[];
  onPick: (value: V) => void;
  /** Shown when nothing is chosen, or several differ. */
  blank?: string;
  /** `quiet`: without a border, for the edge of a screen. */
  look?: 'box' | 'quiet';
  className?: string;
}

const LOOKS = { box: inputLook, quiet: 'rounded px-1.5 py-0.5 text-ink-2 hover:text-pine' } as const;

/** What Radix keeps for a choice: it takes an empty value for none. */
const key = (value: string): string => `=${value}`;

/** One of a few. A value that is not among the choices is shown as it is, and stays until another is picked. */
export const Select = <V extends string>({
  label,
  value,
  choices,
  onPick,
  blank = '–',
  look = 'box',
  className = '',
}: SelectProps<V>) => {
  const chosen = choices.find((c) => c.value === value);
  const groups = [...new Set(choices.map((c) => c.group))];
  return (
    <Box.Root
      value={chosen ? key(chosen.value) : ''}
      onValueChange={(picked) => picked !== '' && onPick(picked.slice(1) as V)}
    >
      <Box.Trigger
        aria-label={label}
        className={`flex items-center gap-1 text-start ${LOOKS[look]} ${className}`}
        data-value={value}
      >
        <span className="min-w-0 flex-1 truncate" lang={chosen?.lang}>
          <Box.Value placeholder={value || blank}>{chosen?.label}</Box.Value>
        </span>
        <ChevronDown size={13} aria-hidden className="shrink-0 text-ink-3" />
      </Box.Trigger>
      <Box.Portal>
        <Box.Content
          position="popper"
          sideOffset={3}
          collisionPadding={4}
          className="select-list z-80 overflow-hidden rounded-lg border border-rule bg-paper shadow-lg"
        >
          <Box.Viewport className="p-1">
            {groups.map((group) => (
              <Box.Group key={group ?? ''}>
                {group !== undefined && <Box.Label className="px-2 pt-1 text-[11px] text-ink-3">{group}</Box.Label>}
                {choices
                  .filter((c) => c.group === group)
                  .map((c) => (
                    <Box.Item
                      key={c.value}
                      value={key(c.value)}
                      lang={c.lang}
                      className="flex items-center gap-1.5 rounded py-0.5 pe-2 ps-1.5 outline-none data-[highlighted]:bg-pine-soft"
                    >
                      <span className="w-3.5 shrink-0">
                        <Box.ItemIndicator>
                          <Check size={13} aria-hidden className="text-pine" />
                        </Box.ItemIndicator>
                      </span>
                      <Box.ItemText>{c.label}</Box.ItemText>
                    </Box.Item>
                  ))}
              </Box.Group>
            ))}
          </Box.Viewport>
        </Box.Content>
      </Box.Portal>
    </Box.Root>
  );
};
