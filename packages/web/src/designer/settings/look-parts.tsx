import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { NumberBox } from '../../ui/commit.tsx';
import { Select } from '../../ui/select.tsx';
import { ByFormula, CheckByFormula, quoted } from './by-formula.tsx';
import type { Chosen } from './item-context.ts';

const DASHES = ['solid', 'dashed', 'dotted'] as const;

export const DashChoice = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const dash = (chosen.value('dash') as (typeof DASHES)[number] | undefined) ?? 'solid';
  return (
    <ByFormula holder={chosen} name="dash" label={t('look.dash')} start={quoted(dash)}>
      <Select
        label={t('look.dash')}
        value={dash}
        choices={DASHES.map((value) => ({ value, label: t(`look.${value}`) }))}
        onPick={(next) => chosen.set(t('look.dash'), { dash: next })}
      />
    </ByFormula>
  );
};

export const Thickness = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const thickness = chosen.value('thickness') as number | undefined;
  return (
    <ByFormula holder={chosen} name="thickness" label={t('look.thickness')} start={String(thickness ?? 0.2)}>
      <NumberBox
        label={t('look.thickness')}
        value={thickness}
        most={20}
        onCommit={(next) => chosen.set(t('look.thickness'), { thickness: next })}
      />
    </ByFormula>
  );
};

/** Whether it gets as much higher as its band does. */
export const Stretch = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <CheckByFormula
      holder={chosen}
      name="stretch"
      label={t('look.stretch')}
      checked={(chosen.value('stretch') as boolean | undefined) ?? false}
      onChange={(on) => chosen.set(t('look.stretch'), { stretch: on || null })}
    />
  );
};

/** The colour of what has one for itself, and no words. */
export const ItemColor = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const color = chosen.value('color') as string | undefined;
  return (
    <ByFormula holder={chosen} name="color" label={t('designer.color')} start={quoted(color)}>
      <ColorBox
        label={t('designer.color')}
        value={color}
        onPick={(next) => chosen.set(t('designer.color'), { color: next })}
      />
    </ByFormula>
  );
};

export const Opacity = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const opacity = (chosen.value('opacity') as number | undefined) ?? 1;
  return (
    <ByFormula holder={chosen} name="opacity" label={t('look.opacity')} start={String(opacity)}>
      <NumberBox
        label={t('look.opacity')}
        unit="%"
        most={100}
        value={Math.round(opacity * 100)}
        onCommit={(percent) => chosen.set(t('look.opacity'), { opacity: percent === 100 ? null : percent / 100 })}
      />
    </ByFormula>
  );
};
