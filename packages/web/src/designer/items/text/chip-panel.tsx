import { type BandAddress, formulaFacts } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { createPortal } from 'react-dom';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Button } from '../../../ui/controls.tsx';
import { useDesign } from '../../design/context.ts';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { FormatPicker } from '../../settings/format-picker.tsx';
import { formatKind } from '../../settings/formats.ts';
import { Apart } from './text-tools.tsx';

export interface PieceValue {
  formula: string;
  format: string | undefined;
}

interface PieceProps {
  value: PieceValue;
  address: BandAddress;
  autoFocus?: boolean;
  onChange: (value: PieceValue) => void;
}

/** A formula inside a text, and how its value is shown. */
export const PieceSettings = ({ value, address, autoFocus, onChange }: PieceProps) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const kind = formatKind(formulaFacts(report, address, value.formula, plan).type);
  return (
    <>
      <FormulaBox
        label={t('text.pieceFormula', { formula: value.formula })}
        value={value.formula}
        address={address}
        format={value.format}
        autoFocus={autoFocus}
        onCommit={(formula) => onChange({ ...value, formula: formula.trim() })}
      />
      {kind !== null && (
        <div className="mt-1 grid grid-cols-[72px_minmax(0,1fr)] items-center gap-1.5">
          <span className="text-ink-2">{t('designer.shownAs')}</span>
          <FormatPicker
            formula={value.formula}
            kind={kind}
            address={address}
            value={value.format}
            onPick={(format) => onChange({ ...value, format: format ?? undefined })}
          />
        </div>
      )}
    </>
  );
};

interface ChipProps {
  value: PieceValue;
  /** Of the chip, in CSS pixels of the window. */
  box: DOMRect;
  address: BandAddress;
  onChange: (value: PieceValue) => void;
  onRemove: () => void;
  onClose: () => void;
}

/** The settings of one chip, below it. */
export const ChipPanel = ({ value, box, address, onChange, onRemove, onClose }: ChipProps) => {
  const { t } = useTranslation();
  return createPortal(
    <Apart label={t('text.piece')}>
      <div
        role="dialog"
        aria-label={t('text.piece')}
        className="fixed z-20 w-[290px] rounded-lg border border-rule bg-paper p-2.5 text-[13px] shadow-lg"
        style={{
          left: Math.max(4, Math.min(box.left, window.innerWidth - 300)),
          top: Math.max(4, Math.min(box.bottom + 6, window.innerHeight - 200)),
        }}
      >
        <PieceSettings value={value} address={address} autoFocus onChange={onChange} />
        <span className="mt-2 flex gap-1.5">
          <Button onClick={onClose}>{t('text.done')}</Button>
          <Button look="quiet" onClick={onRemove}>
            <X size={13} aria-hidden /> {t('text.removePiece')}
          </Button>
        </span>
      </div>
    </Apart>,
    document.body,
  );
};
