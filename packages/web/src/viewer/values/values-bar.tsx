import type { GivenValue, Parameter } from '@gaveta/core/internal';
import { Play, SlidersHorizontal } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { allWords } from '../../parameters/all-words.ts';
import { ParameterChips } from '../../parameters/parameter-chips.tsx';
import { valueWords } from '../../parameters/parameter-types.tsx';
import type { ChoiceSource } from '../../parameters/use-choices.ts';
import { Button } from '../../ui/controls.tsx';
import { useIsNarrow } from '../narrow.ts';
import { SavedValues } from './saved-values.tsx';
import type { ValuesInHand } from './use-staging.ts';

/** Parameters from which on a strip of chips is too much: those with values are shown, and a panel has all of them. */
const MANY = 6;

interface ValuesBarProps {
  /** Where choices come from. */
  source: ChoiceSource;
  /** The stored report that values can be kept for; null for one that was never saved. */
  keptFor: string | null;
  parameters: readonly Parameter[];
  hand: ValuesInHand;
  mayShare: boolean;
}

/** The values that a report is run with, as chips; many of them in a panel. */
export const ValuesBar = ({ source, keptFor, parameters, hand, mayShare }: ValuesBarProps) => {
  const { t } = useTranslation();
  const isNarrow = useIsNarrow();
  const { shown, staged, isOpen } = hand;
  const offered = parameters.filter((one) => !one.hidden && !one.fromHost);
  if (offered.length === 0) return null;
  const changed = Object.keys(staged).length;
  const isLong = offered.length > MANY || isNarrow;
  const hasValue = ({ name }: Parameter): boolean => shown[name] !== undefined && shown[name] !== null;
  const given = offered.filter((one) => hasValue(one) || Object.hasOwn(staged, one.name));
  const chips = isNarrow ? [] : isLong ? given.slice(0, MANY) : offered;
  return (
    <nav
      aria-label={t('viewer.parameters')}
      className="flex flex-wrap items-center gap-2 border-b border-rule px-3.5 py-2 max-sm:px-2 max-sm:py-1.5"
    >
      {isLong && (
        <Button look="chip" aria-expanded={isOpen} onClick={hand.toggle}>
          <SlidersHorizontal size={13} aria-hidden />
          {t('viewer.values.all', { count: offered.length })}
        </Button>
      )}
      <ParameterChips
        parameters={chips}
        values={shown}
        changed={staged}
        onChange={(name: string, value: GivenValue) => hand.choose(name, value)}
        source={source}
      />
      {changed > 0 && !isOpen && (
        <>
          <span role="status" className="text-ink-2">
            {t('viewer.values.changed', { count: changed })}
          </span>
          <Button look="primary" onClick={hand.run}>
            <Play size={13} aria-hidden /> {t('viewer.run')}
          </Button>
          <Button look="quiet" onClick={hand.drop}>
            {t('viewer.values.drop')}
          </Button>
        </>
      )}
      {changed === 0 && !isOpen && offered.some(hasValue) && (
        <button type="button" className="rounded px-1.5 text-ink-3 hover:text-pine" onClick={() => hand.replace({})}>
          {t('viewer.startOver')}
        </button>
      )}
      <UnfitWords hand={hand} />
      {keptFor !== null && (
        <SavedValues report={keptFor} given={hand.given} mayShare={mayShare} onPick={hand.replace} />
      )}
    </nav>
  );
};

/** Which values were taken back with the last choice, and why. */
export const UnfitWords = ({ hand: { unfit, shown } }: { hand: ValuesInHand }) => {
  const { t, i18n } = useTranslation();
  if (!unfit) return null;
  const telling = { t, language: i18n.language };
  const by = unfit.by;
  const chosen = valueWords(shown[by.name] ?? by.default ?? null, { ...telling, parameter: by });
  return (
    <span role="status" data-testid="unfit" className="rounded bg-brass-soft px-1.5 text-ink">
      {unfit.list
        .map(({ parameter, gone }) => {
          const value = gone.map((one) => valueWords(one, { ...telling, parameter })).join(', ');
          return t('viewer.values.unfit', {
            name: parameter.label,
            value,
            by: by.label,
            chosen: chosen || allWords(by, t),
          });
        })
        .join(' ')}
    </span>
  );
};
