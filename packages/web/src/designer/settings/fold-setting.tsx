import type { BandAddress, RowFold } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Check, CommitBox } from '../../ui/commit.tsx';
import { Select } from '../../ui/select.tsx';
import { FormulaBox, type FormulaPlace } from '../formula/formula-box.tsx';
import { Setting } from './setting.tsx';

const WAYS = ['none', 'open', 'closed', 'formula'] as const;

interface FoldSettingProps {
  fold: RowFold | undefined;
  /** Where its sign stands, which decides what its condition reads; null where nothing has it. */
  address: BandAddress | FormulaPlace | null;
  /** It has a footer, which may be hidden with the rows. */
  hasFooter?: boolean;
  /** Null makes it stay open. */
  onChange: (fold: RowFold | null) => void;
}

/** Whether readers open and close something, and how it is at first. */
export const FoldSetting = ({ fold, address, hasFooter = false, onChange }: FoldSettingProps) => {
  const { t } = useTranslation();
  const way = !fold ? 'none' : fold.closedIf !== undefined ? 'formula' : fold.closed ? 'closed' : 'open';
  const kept = fold?.hidesFooter ? { hidesFooter: true } : {};
  const label = t('fold.title');
  const condition = t('fold.closedIf');
  const commit = (text: string): void => onChange(text.trim() === '' ? kept : { ...kept, closedIf: text });
  return (
    <>
      <Setting label={label}>
        <Select
          label={label}
          value={way}
          choices={WAYS.map((value) => ({ value, label: t(`fold.${value}`) }))}
          onPick={(next) => {
            switch (next) {
              case 'none':
                return onChange(null);
              case 'open':
                return onChange(kept);
              case 'closed':
                return onChange({ ...kept, closed: true });
              case 'formula':
                return onChange({ ...kept, closedIf: 'TRUE' });
              default:
                return next satisfies never;
            }
          }}
        />
      </Setting>
      {fold?.closedIf !== undefined && (
        <Setting label={condition} wide>
          {address ? (
            <FormulaBox label={condition} value={fold.closedIf} address={address} onCommit={commit} />
          ) : (
            <CommitBox label={condition} mono value={fold.closedIf} onCommit={commit} />
          )}
        </Setting>
      )}
      {fold && hasFooter && (
        <Check
          label={t('fold.hidesFooter')}
          checked={fold.hidesFooter ?? false}
          onChange={(on) => {
            const { hidesFooter: _, ...rest } = fold;
            onChange(on ? { ...rest, hidesFooter: true } : rest);
          }}
        />
      )}
      {fold && <p className="text-[11.5px] text-ink-3">{t('fold.sign')}</p>}
    </>
  );
};
