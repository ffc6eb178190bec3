import { Printer } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button, inputLook } from '../../ui/controls.tsx';
import { Panel } from '../../ui/panel.tsx';
import { everyPage, pageNumbers } from './page-numbers.ts';
import { MOST_PRINTED } from './print.ts';

/** What is wanted on paper; `numbers`: null for all pages, however many there are with everything open. */
export interface PrintWanted {
  numbers: readonly number[] | null;
  open: boolean;
}

interface PrintButtonProps {
  isOpen: boolean;
  onOpen: (open: boolean) => void;
  /** All pages are there. */
  done: boolean;
  count: number;
  page: number;
  /** Something is closed that could be open on paper. */
  hasClosed: boolean;
  isPreparing: boolean;
  onPrint: (wanted: PrintWanted) => void;
}

/** Prints all pages, the one that is read, or those that are named. */
export const PrintButton = (props: PrintButtonProps) => {
  const { isOpen, onOpen, done, count, isPreparing } = props;
  const { t } = useTranslation();
  const isReady = done && count > 0 && !isPreparing;
  usePrintKey(isReady, () => onOpen(true));
  return (
    <Popover.Root open={isOpen && isReady} onOpenChange={onOpen}>
      <Popover.Trigger asChild>
        <Button disabled={!isReady} title={t('viewer.printKey')}>
          <Printer size={14} aria-hidden />
          <span className="max-md:sr-only">{t(isPreparing ? 'viewer.printing' : 'viewer.print')}</span>
        </Button>
      </Popover.Trigger>
      <Panel label={t('viewer.print')} align="end" className="w-72 p-3">
        <Wanted {...props} />
      </Panel>
    </Popover.Root>
  );
};

/** The browser’s key for printing opens what prints the pages; the browser itself would print the window. */
const usePrintKey = (isOn: boolean, open: () => void): void => {
  const latest = useRef(open);
  latest.current = open;
  useEffect(() => {
    if (!isOn) return;
    const onKey = (event: KeyboardEvent): void => {
      const isCommand = (event.ctrlKey || event.metaKey) && !event.altKey && !event.shiftKey;
      if (!isCommand || event.key.toLowerCase() !== 'p') return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [isOn]);
};

const WHICH = ['all', 'page', 'some'] as const;

const Wanted = ({ count, page, hasClosed, onOpen, onPrint }: PrintButtonProps) => {
  const { t } = useTranslation();
  const [which, setWhich] = useState<(typeof WHICH)[number]>(count > MOST_PRINTED ? 'page' : 'all');
  const [named, setNamed] = useState('');
  const [open, setOpen] = useState(false);
  const numbers = which === 'all' ? everyPage(count) : which === 'page' ? [page] : pageNumbers(named, count);
  const isTooMany = (numbers?.length ?? 0) > MOST_PRINTED;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!numbers || isTooMany) return;
        onOpen(false);
        onPrint({ numbers: which === 'all' ? null : numbers, open: open && which === 'all' });
      }}
    >
      <fieldset className="space-y-1">
        <legend className="mb-1 font-semibold">{t('viewer.print')}</legend>
        {WHICH.map((one) => (
          <label key={one} className="flex min-h-7 items-center gap-2">
            <input
              type="radio"
              name="which"
              className="accent-pine"
              checked={which === one}
              onChange={() => setWhich(one)}
            />
            {t(`viewer.printed.${one}`, { count, page })}
          </label>
        ))}
      </fieldset>
      {which === 'some' && (
        <input
          // biome-ignore lint/a11y/noAutofocus: it was just chosen to be typed in
          autoFocus
          className={`${inputLook} mt-1`}
          aria-label={t('viewer.printed.numbers')}
          placeholder={t('viewer.printed.example')}
          value={named}
          onChange={(event) => setNamed(event.target.value)}
        />
      )}
      {which === 'some' && named.trim() !== '' && !numbers && (
        <p role="alert" className="mt-1 text-rust">
          {t('viewer.printed.wrong', { count })}
        </p>
      )}
      {hasClosed && which === 'all' && (
        <label className="mt-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-pine"
            checked={open}
            onChange={(event) => setOpen(event.target.checked)}
          />
          {t('export.allOpen')}
        </label>
      )}
      {isTooMany && <p className="mt-2 text-ink-2">{t('viewer.tooManyToPrint', { most: MOST_PRINTED })}</p>}
      <div className="mt-3 flex justify-end">
        <Button look="primary" type="submit" disabled={!numbers || isTooMany}>
          {numbers ? t('viewer.printed.go', { count: numbers.length }) : t('viewer.print')}
        </Button>
      </div>
    </form>
  );
};
