import { DEFAULT_LOOK, type Edge, type Look, SIDES, type Side } from '@gaveta/core/internal';
import { useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { NumberBox } from '../../ui/commit.tsx';
import { Select } from '../../ui/select.tsx';
import { ByFormula, quoted } from './by-formula.tsx';
import { type Chosen, shared } from './item-context.ts';
import { Setting } from './setting.tsx';

/** Where each side is drawn in the picture of the box. */
const PLACES: Record<Side, string> = {
  top: 'inset-x-3 top-0 h-3',
  right: 'inset-y-3 right-0 w-3',
  bottom: 'inset-x-3 bottom-0 h-3',
  left: 'inset-y-3 left-0 w-3',
};

const LINES: Record<Side, string> = {
  top: 'inset-x-0 top-1 border-t-2',
  right: 'inset-y-0 right-1 border-r-2',
  bottom: 'inset-x-0 bottom-1 border-b-2',
  left: 'inset-y-0 left-1 border-l-2',
};

const INSETS: Record<Side, string> = {
  top: 'top-4 left-1/2 -translate-x-1/2',
  right: 'right-4 top-1/2 -translate-y-1/2',
  bottom: 'bottom-4 left-1/2 -translate-x-1/2',
  left: 'left-4 top-1/2 -translate-y-1/2',
};

const paddingBySide = (padding: Look['padding']): Record<Side, number> => {
  const side = (name: Side): number => (typeof padding === 'number' ? padding : (padding?.[name] ?? 0));
  return { top: side('top'), right: side('right'), bottom: side('bottom'), left: side('left') };
};

/** A drawn box whose edges are pressed to have a line, with the room inside each of them. */
export const BorderBox = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const border = chosen.look('border') ?? {};
  const padding = paddingBySide(chosen.look('padding'));
  const first = SIDES.map((s) => border[s]).find((e) => e !== undefined);
  const [pen, setPen] = useState<Edge>(first ?? { width: 0.2, color: DEFAULT_LOOK.color });
  const put = (next: Partial<Record<Side, Edge | undefined>>): void => {
    const kept = Object.fromEntries(Object.entries(next).filter(([, edge]) => edge));
    chosen.setLook({ border: Object.keys(kept).length > 0 ? kept : null });
  };
  /** The pen changes the lines that are drawn, too. */
  const draw = (next: Edge): void => {
    setPen(next);
    if (first) put(Object.fromEntries(SIDES.map((side) => [side, border[side] ? next : undefined])));
  };
  return (
    <>
      <Setting label={t('look.border')} wide>
        <div className="relative mx-auto h-[104px] w-full max-w-[210px] rounded bg-desk/50">
          {SIDES.map((side) => {
            const edge = border[side];
            return (
              <button
                key={side}
                type="button"
                aria-label={t(`look.border_${side}`)}
                title={t(`look.border_${side}`)}
                aria-pressed={edge !== undefined}
                className={`absolute rounded hover:bg-brass-soft ${PLACES[side]}`}
                onClick={() => put({ ...border, [side]: edge ? undefined : pen })}
              >
                <span
                  aria-hidden
                  className={`absolute ${LINES[side]} ${edge ? '' : 'border-dotted opacity-30'}`}
                  style={{ borderColor: edge?.color ?? 'var(--color-ink-3)' }}
                />
              </button>
            );
          })}
          {SIDES.map((side) => (
            <input
              key={`${side} ${padding[side]}`}
              aria-label={t(`look.padding_${side}`)}
              title={t(`look.padding_${side}`)}
              inputMode="decimal"
              className={`absolute h-5 w-9 rounded border border-rule bg-paper text-center text-[11px] ${INSETS[side]}`}
              // A new value from elsewhere makes a new box.
              defaultValue={padding[side]}
              onBlur={(event) => {
                const number = Number(event.target.value.replace(',', '.'));
                if (Number.isFinite(number) && number >= 0 && number <= 500 && number !== padding[side])
                  chosen.setLook({ padding: { ...padding, [side]: number } });
              }}
              onKeyDown={(event) => {
                if (event.key === 'Enter') event.currentTarget.blur();
              }}
            />
          ))}
        </div>
      </Setting>
      <ByFormula holder={chosen} name="borderWidth" label={t('look.borderWidth')} start={String(pen.width)}>
        <NumberBox
          label={t('look.borderWidth')}
          value={pen.width}
          least={0.05}
          most={20}
          onCommit={(width) => draw({ ...pen, width })}
        />
      </ByFormula>
      <ByFormula
        holder={chosen}
        name="borderColor"
        label={t('look.borderColor')}
        start={quoted(pen.color ?? DEFAULT_LOOK.color)}
      >
        <ColorBox label={t('look.borderColor')} value={pen.color} onPick={(color) => draw({ ...pen, color })} />
      </ByFormula>
      <ByFormula holder={chosen} name="borderDash" label={t('look.dash')} start={quoted(pen.dash ?? 'solid')}>
        <Select
          label={t('look.dash')}
          value={pen.dash ?? 'solid'}
          choices={(['solid', 'dashed', 'dotted'] as const).map((value) => ({ value, label: t(`look.${value}`) }))}
          onPick={(dash) => draw({ ...pen, dash })}
        />
      </ByFormula>
      <ByFormula holder={chosen} name="padding" label={t('look.padding')} start={String(padding.left)}>
        <NumberBox
          label={t('look.padding')}
          value={shared(SIDES.map((side) => padding[side]))}
          most={500}
          onCommit={(next) => chosen.setLook({ padding: next })}
        />
      </ByFormula>
    </>
  );
};
