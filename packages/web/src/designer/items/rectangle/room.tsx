import { Square } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { NumberBox } from '../../../ui/commit.tsx';
import { ByFormula, quoted } from '../../settings/by-formula.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { DashChoice, Opacity, Stretch, Thickness } from '../../settings/look-parts.tsx';
import { Section } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

/** How frames look. */
const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const fill = chosen.value('fill') as string | undefined;
  const stroke = chosen.value('stroke') as string | undefined;
  const radius = (chosen.value('radius') as number | undefined) ?? 0;
  return (
    <Section title={t('designer.look')} section="look">
      <ByFormula holder={chosen} name="fill" label={t('look.fill')} start={quoted(fill ?? '#f3e6c8')}>
        <ColorBox
          label={t('look.fill')}
          value={fill}
          onPick={(next) => chosen.set(t('look.fill'), { fill: next })}
          onClear={() => chosen.set(t('look.fill'), { fill: null })}
        />
      </ByFormula>
      <ByFormula holder={chosen} name="stroke" label={t('look.stroke')} start={quoted(stroke ?? '#1f2a2e')}>
        <ColorBox
          label={t('look.stroke')}
          value={stroke}
          onPick={(next) => chosen.set(t('look.stroke'), { stroke: next })}
          onClear={() => chosen.set(t('look.stroke'), { stroke: null })}
        />
      </ByFormula>
      <Thickness chosen={chosen} />
      <DashChoice chosen={chosen} />
      <ByFormula holder={chosen} name="radius" label={t('look.radius')} start={String(radius)}>
        <NumberBox
          label={t('look.radius')}
          value={radius}
          onCommit={(next) => chosen.set(t('look.radius'), { radius: next })}
        />
      </ByFormula>
      <Opacity chosen={chosen} />
      <Stretch chosen={chosen} />
    </Section>
  );
};

/** On the board. */
const Board = ({ item, scale }: BoardProps<'rectangle'>) => {
  return (
    <div
      className={`size-full ${item.fill || item.stroke ? '' : 'border border-dashed border-rule'}`}
      style={{
        background: item.fill,
        border: item.stroke && `${Math.max(1, item.thickness * scale)}px ${item.dash ?? 'solid'} ${item.stroke}`,
        borderRadius: item.radius * scale,
        opacity: item.opacity,
      }}
    />
  );
};

export const rectangleRoom: ItemRoom<'rectangle'> = { Board, Look, add: { id: 'frame', icon: Square } };
