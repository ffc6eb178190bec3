import { CHECK_SIGNS, type CheckSign, checkShape, type ItemOf } from '@gaveta/core/internal';
import { SquareCheck } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { ByFormula, CheckByFormula, quoted } from '../../settings/by-formula.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemColor } from '../../settings/look-parts.tsx';
import { OwnFormula } from '../../settings/own-formula.tsx';
import { Section } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

/** When a check mark is set. */
const Content = ({ item, chosen }: { item: ItemOf<'check'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.content')} section="content">
      <OwnFormula label={t('check.says')} item={item} chosen={chosen} isCondition />
    </Section>
  );
};

/** How check marks look. */
const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const sign = (chosen.value('sign') as CheckSign | undefined) ?? 'tick';
  return (
    <Section title={t('designer.look')} section="look">
      <ByFormula holder={chosen} name="sign" label={t('check.sign')} start={quoted(sign)}>
        <Select
          label={t('check.sign')}
          value={sign}
          choices={CHECK_SIGNS.map((value) => ({ value, label: t(`check.sign_${value}`) }))}
          onPick={(next) => chosen.set(t('check.sign'), { sign: next })}
        />
      </ByFormula>
      <ItemColor chosen={chosen} />
      <CheckByFormula
        holder={chosen}
        name="frame"
        label={t('check.frame')}
        checked={chosen.value('frame') !== false}
        onChange={(on) => chosen.set(t('check.frame'), { frame: on ? null : false })}
      />
    </Section>
  );
};

/** On the board. */
const Board = ({ item }: BoardProps<'check'>) => {
  return (
    <div className="grid size-full place-items-center overflow-hidden" style={{ color: item.color }}>
      {/* biome-ignore lint/a11y/noSvgWithoutTitle: the item around it has a name */}
      <svg viewBox="0 0 24 24" aria-hidden className="size-full">
        <path
          d={checkShape(item.sign, item.frame !== false)
            .map((polygon) => `M${polygon.join(' ')}Z`)
            .join('')}
          fill="currentColor"
          fillRule="evenodd"
        />
      </svg>
    </div>
  );
};

export const checkRoom: ItemRoom<'check'> = { Board, Content, Look, add: { id: 'check', icon: SquareCheck } };
