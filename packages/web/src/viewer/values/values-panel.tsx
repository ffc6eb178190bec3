import { fitsParameter, type GivenValue, type Parameter } from '@gaveta/core/internal';
import { Play, X } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { allWords } from '../../parameters/all-words.ts';
import { ParameterEditor, valueWords } from '../../parameters/parameter-types.tsx';
import type { ChoiceSource } from '../../parameters/use-choices.ts';
import { Button, IconButton } from '../../ui/controls.tsx';
import type { ValuesInHand } from './use-staging.ts';
import { UnfitWords } from './values-bar.tsx';

interface ValuesPanelProps {
  source: ChoiceSource;
  parameters: readonly Parameter[];
  hand: ValuesInHand;
}

/** All parameters below one another: what is chosen waits until the report is run. */
export const ValuesPanel = ({ source, parameters, hand }: ValuesPanelProps) => {
  const { t } = useTranslation();
  const offered = parameters.filter((one) => !one.hidden && !one.fromHost);
  const changed = Object.keys(hand.staged).length;
  return (
    <aside
      aria-label={t('viewer.parameters')}
      className="flex w-72 flex-none flex-col border-s border-rule bg-paper max-sm:absolute max-sm:inset-0 max-sm:z-40 max-sm:w-full"
      onKeyDown={(event) => event.key === 'Escape' && !event.defaultPrevented && hand.toggle()}
    >
      <header className="flex items-center gap-2 border-b border-rule py-1.5 ps-3 pe-1.5">
        <h2 className="min-w-0 flex-1 truncate font-semibold">{t('viewer.parameters')}</h2>
        <IconButton label={t('viewer.values.fold')} onClick={hand.toggle}>
          <X size={15} aria-hidden />
        </IconButton>
      </header>
      <div className="min-h-0 flex-1 overflow-auto">
        {offered.map((parameter) => (
          <OneValue key={parameter.name} {...{ source, parameter, hand }} />
        ))}
      </div>
      <p className="px-3 py-1 empty:hidden">
        <UnfitWords hand={hand} />
      </p>
      <footer className="flex items-center gap-2 border-t border-rule p-2">
        <span role="status" className="min-w-0 flex-1 text-ink-2">
          {changed > 0 && t('viewer.values.changed', { count: changed })}
        </span>
        {changed > 0 && (
          <Button look="quiet" onClick={hand.drop}>
            {t('viewer.values.drop')}
          </Button>
        )}
        <Button look="primary" disabled={changed === 0} onClick={hand.run}>
          <Play size={13} aria-hidden /> {t('viewer.run')}
        </Button>
      </footer>
    </aside>
  );
};

interface OneValueProps extends Pick<ValuesPanelProps, 'source' | 'hand'> {
  parameter: Parameter;
}

const OneValue = ({ source, parameter, hand }: OneValueProps) => {
  const { t, i18n } = useTranslation();
  const [isOpen, setOpen] = useState(false);
  const [refused, setRefused] = useState(false);
  const { name, label, help, type } = parameter;
  const { shown, staged } = hand;
  const value = shown[name] ?? parameter.default ?? null;
  const isChanged = Object.hasOwn(staged, name);
  const telling = { parameter, t, language: i18n.language };
  const words = (one: GivenValue): string => valueWords(one, telling) || allWords(parameter, t);
  const apply = (next: GivenValue): void => {
    const fits = fitsParameter({ name: '', language: 'en', timeZone: 'UTC', parameters: [] }, parameter, next);
    setRefused(!fits);
    if (!fits) return;
    setOpen(false);
    hand.stage(name, next === '' || (Array.isArray(next) && next.length === 0) ? null : next);
  };
  return (
    <details
      open={isOpen}
      className={`border-b border-rule-soft ${isChanged ? 'bg-brass-soft/50' : ''}`}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="flex min-h-9 cursor-pointer items-center gap-2 px-3 py-1.5">
        <span className="min-w-0 flex-1 truncate">{label}</span>
        <b className="max-w-[60%] truncate">{words(value)}</b>
      </summary>
      <div className="px-3 pb-3">
        {isChanged && (
          <p className="mb-1.5 text-[12px] text-ink-2">
            {t('viewer.values.was', { value: words(hand.given[name] ?? parameter.default ?? null) })}
          </p>
        )}
        {help && <p className="mb-1.5 text-ink-3">{help}</p>}
        {isOpen && (
          <ParameterEditor
            key={JSON.stringify(value)}
            parameter={parameter}
            value={value}
            values={shown}
            source={source}
            onApply={apply}
          />
        )}
        {refused && (
          <p role="alert" className="mt-2 text-rust">
            {t(`viewer.expected_${type}`)}
          </p>
        )}
      </div>
    </details>
  );
};
