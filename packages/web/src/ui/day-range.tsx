import { ChevronDown, ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { DayPicker } from 'react-day-picker';
import { enGB } from 'react-day-picker/locale/en-GB';
import { pt } from 'react-day-picker/locale/pt';
import { useTranslation } from '../i18n/use-translation.ts';

interface Props {
  /** Days as `2025-07-31`; empty at an end that is open. */
  from: string;
  to: string;
  /** Between which months one can go. */
  least: string;
  most: string;
  onRange: (from: string, to: string) => void;
}

/** Noon, which no change of the clock takes to another day. */
const dateOf = (day: string): Date => new Date(`${day}T12:00:00`);
const dayOf = (date: Date): string => {
  const two = (part: number): string => String(part).padStart(2, '0');
  return `${String(date.getFullYear()).padStart(4, '0')}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
};

const ICONS = { left: ChevronLeft, right: ChevronRight, up: ChevronDown, down: ChevronDown };

/** A calendar: one press keeps a day, a second one all days between the two. */
export const DayRange = ({ from, to, least, most, onRange }: Props) => {
  const { i18n } = useTranslation();
  /** The day that a range begins with whose other end is still to be pressed. */
  const [begun, setBegun] = useState<string | null>(null);
  const shown = to || from || most;
  const press = (day: string): void => {
    if (begun === null) onRange(day, day);
    else onRange(begun < day ? begun : day, begun < day ? day : begun);
    setBegun(begun === null ? day : null);
  };
  return (
    <DayPicker
      mode="range"
      locale={i18n.language.startsWith('pt') ? pt : enGB}
      captionLayout="dropdown"
      fixedWeeks
      showOutsideDays
      defaultMonth={dateOf(shown)}
      startMonth={dateOf(least)}
      endMonth={dateOf(most)}
      selected={{ from: dateOf(from || least), to: dateOf(to || most) }}
      onSelect={(_, date) => press(dayOf(date))}
      components={{
        Chevron: ({ orientation = 'down', size = 16 }) => {
          const Icon = ICONS[orientation];
          return <Icon size={size} aria-hidden className="rtl:-scale-x-100" />;
        },
      }}
      classNames={{
        months: 'relative',
        month_caption: 'flex h-7 items-center ps-1 font-semibold',
        dropdowns: 'flex gap-1.5',
        dropdown_root: 'relative rounded px-1 focus-within:outline-2 focus-within:outline-pine hover:bg-desk/50',
        dropdown: 'absolute inset-0 w-full cursor-pointer opacity-0',
        caption_label: 'flex items-center gap-0.5',
        nav: 'absolute end-0 top-0 flex gap-0.5',
        button_previous: 'grid size-7 place-items-center rounded hover:bg-desk/50 aria-disabled:opacity-40',
        button_next: 'grid size-7 place-items-center rounded hover:bg-desk/50 aria-disabled:opacity-40',
        month_grid: 'w-full border-collapse',
        weekday: 'h-6 text-[11px] font-normal text-ink-2',
        day: 'p-0 text-center',
        day_button: 'h-6 w-full rounded outline-offset-[-2px] hover:outline-1 hover:outline-pine',
        outside: 'text-ink-3',
        today: 'font-bold',
        disabled: 'opacity-40',
        range_middle: 'bg-pine-soft',
        range_start: 'rounded-s bg-pine text-paper',
        range_end: 'rounded-e bg-pine text-paper',
      }}
    />
  );
};
