import type { ReactNode } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';

interface Props {
  label: string;
  /** Share of the real size. */
  zoom: number;
  onZoom: (factor: number) => void;
  onFit: () => void;
  /** Classes of its buttons. */
  look: string;
}

/** Smaller, as wide as there is room, larger. */
export const ZoomSteps = ({ label, zoom, onZoom, onFit, look }: Props) => {
  const { t } = useTranslation();
  const step = (name: string, words: ReactNode, act: () => void) => (
    <button type="button" aria-label={name} title={name} className={`min-w-5 rounded px-1 ${look}`} onClick={act}>
      {words}
    </button>
  );
  const percent = `${Math.round(zoom * 100)}%`;
  return (
    // biome-ignore lint/a11y/useSemanticElements: three buttons in a line are no fieldset
    <div
      role="group"
      aria-label={label}
      className="pointer-events-auto flex flex-none items-center gap-0.5 tabular-nums"
    >
      {step(t('command.zoomOut'), '−', () => onZoom(0.8))}
      {step(`${percent}: ${t('command.zoomFit')}`, percent, onFit)}
      {step(t('command.zoomIn'), '+', () => onZoom(1.25))}
    </div>
  );
};
