import type { BandAddress } from '@gaveta/core/internal';
import { Check, ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { CommitBox } from '../../ui/commit.tsx';
import { Panel } from '../../ui/panel.tsx';
import { useDesign } from '../design/context.ts';
import { FORMATS } from './formats.ts';

interface PickerProps {
  formula: string;
  /** What kind of values it gives; null for neither numbers nor dates. */
  kind: 'number' | 'date' | null;
  address: BandAddress;
  value: string | undefined;
  onPick: (code: string | null) => void;
}

/** How a value is shown, each choice as the real value of a row looks in it. */
export const FormatPicker = ({ formula, kind, address, value, onPick }: PickerProps) => {
  const { t } = useTranslation();
  const {
    report,
    live: { probe },
  } = useDesign();
  const [open, setOpen] = useState(false);
  const [shown, setShown] = useState<readonly string[]>([]);
  const offered = FORMATS.filter((f) => kind === null || f.kind === kind);
  const codes = ['', ...offered.map((f) => f.code), ...(value ? [value] : [])];
  const asked = JSON.stringify([formula, codes, address]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what is asked
  useEffect(() => {
    let isOver = false;
    const list = open ? codes : [value ?? ''];
    void probe(
      report,
      address,
      list.map((format) => ({ formula, format: format === '' ? undefined : format })),
      true,
    ).then(({ values }) => {
      if (isOver) return;
      // The first row that has a value tells most.
      const row = values[0]?.findIndex((v) => v !== '') ?? -1;
      setShown(values.map((v) => v[Math.max(0, row)] ?? ''));
    });
    return () => {
      isOver = true;
    };
  }, [asked, open, probe, value]);
  const current = open ? shown[codes.indexOf(value ?? '')] : shown[0];
  const line = (code: string, name: string, example: string | undefined, isOn: boolean) => (
    <Popover.Close asChild key={code || 'field'}>
      <button
        type="button"
        aria-pressed={isOn}
        className="flex w-full items-center gap-2 rounded px-2 py-1 text-start hover:bg-pine-soft"
        onClick={() => onPick(code === '' ? null : code)}
      >
        <Check size={13} aria-hidden className={isOn ? 'text-pine' : 'invisible'} />
        <span className="text-ink-3">{name}</span>
        <span className="ms-auto font-medium">{example}</span>
      </button>
    </Popover.Close>
  );
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`${t('designer.shownAs')}: ${current ?? ''}`}
          className="flex h-[26px] w-full min-w-0 items-center rounded border border-rule bg-paper px-2 text-start"
        >
          <span className="min-w-0 flex-1 truncate">{current || t('designer.asField')}</span>
          <ChevronDown size={13} aria-hidden className="shrink-0 text-ink-3" />
        </button>
      </Popover.Trigger>
      <Panel label={t('designer.shownAs')} align="start" className="w-[280px] p-1.5 [--panel-height:420px]">
        {line('', t('designer.asField'), shown[0], !value)}
        {offered.map((f, i) => line(f.code, t(`formats.${f.name}`), shown[i + 1], f.code === value))}
        <div className="mt-1 border-t border-rule-soft px-2 pt-1.5">
          <span className="text-[11.5px] text-ink-3">{t('formats.own')}</span>
          <CommitBox
            label={t('formats.own')}
            mono
            value={value ?? ''}
            onCommit={(code) => onPick(code.trim() === '' ? null : code.trim())}
          />
        </div>
      </Panel>
    </Popover.Root>
  );
};
