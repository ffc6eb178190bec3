import { DEFAULT_LOOK, type Look, styleFrom } from '@gaveta/core/internal';
import {
  AlignCenter,
  AlignJustify,
  AlignLeft,
  AlignRight,
  AlignVerticalJustifyCenter,
  AlignVerticalJustifyEnd,
  AlignVerticalJustifyStart,
  Bold,
  Italic,
  Underline,
} from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { NumberBox, Toggle } from '../../ui/commit.tsx';
import { NameForm } from '../../ui/name-form.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { BorderBox } from '../settings/border-box.tsx';
import { ByFormula, CheckByFormula, quoted } from '../settings/by-formula.tsx';
import { Highlights } from '../settings/highlights.tsx';
import type { Chosen } from '../settings/item-context.ts';
import { Section } from '../settings/setting.tsx';
import { useFamilies } from '../settings/use-families.ts';

/** How texts and fields look. */
export const WordsLook = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report } = useDesign();
  const families = useFamilies();
  const { look, setLook } = chosen;
  const styles = Object.keys(report.styles);
  const flag = (key: 'bold' | 'italic' | 'underline' | 'strike'): boolean => look(key) ?? false;
  const flip = (key: 'bold' | 'italic' | 'underline' | 'strike'): void => setLook({ [key]: !flag(key) });
  const [only] = chosen.items;
  const [naming, setNaming] = useState(false);
  return (
    <Section title={t('designer.look')} section="look" more={<MoreLook chosen={chosen} />}>
      <ByFormula
        holder={chosen}
        name="style"
        label={t('look.style')}
        start={quoted((chosen.value('style') as string | undefined) ?? styles[0])}
      >
        <Select
          label={t('look.style')}
          value={(chosen.value('style') as string | undefined) ?? ''}
          choices={[
            { value: '', label: t('look.noStyle') },
            ...styles.map((s) => ({ value: s, label: styleName(t, s) })),
          ]}
          onPick={(style) =>
            chosen.set(t('look.style'), {
              style: style === '' ? null : style,
              look: kept(only && 'look' in only ? only.look : undefined),
            })
          }
        />
      </ByFormula>
      {naming ? (
        <NameForm
          label={t('styles.newName')}
          action={t('styles.make')}
          onName={(name) => {
            setNaming(false);
            if (only && report.styles[name] === undefined)
              chosen.edit(t('edits.style', { name }), styleFrom(report, only, chosen.ids, name));
          }}
          onCancel={() => setNaming(false)}
        />
      ) : (
        <button type="button" className="text-[12px] text-pine hover:underline" onClick={() => setNaming(true)}>
          {t('styles.makeOne')}
        </button>
      )}
      <ByFormula holder={chosen} name="font" label={t('designer.font')} start={quoted(look('font') ?? families[0])}>
        <Select
          label={t('designer.font')}
          value={look('font') ?? families[0]!}
          choices={families.map((value) => ({ value, label: value }))}
          onPick={(font) => setLook({ font })}
        />
      </ByFormula>
      <ByFormula
        holder={chosen}
        name="size"
        label={t('designer.size')}
        start={String(look('size') ?? DEFAULT_LOOK.size)}
      >
        <NumberBox
          label={t('designer.size')}
          unit="pt"
          value={look('size') ?? DEFAULT_LOOK.size}
          least={1}
          most={500}
          onCommit={(size) => setLook({ size })}
        />
      </ByFormula>
      <ByFormula
        holder={chosen}
        name="color"
        label={t('designer.color')}
        start={quoted(look('color') ?? DEFAULT_LOOK.color)}
      >
        <span className="flex items-center gap-1">
          <ColorBox
            label={t('designer.color')}
            value={look('color') ?? DEFAULT_LOOK.color}
            onPick={(color) => setLook({ color })}
          />
          <Toggle label={t('designer.bold')} on={flag('bold')} onClick={() => flip('bold')}>
            <Bold size={14} />
          </Toggle>
          <Toggle label={t('designer.italic')} on={flag('italic')} onClick={() => flip('italic')}>
            <Italic size={14} />
          </Toggle>
          <Toggle label={t('look.underline')} on={flag('underline')} onClick={() => flip('underline')}>
            <Underline size={14} />
          </Toggle>
        </span>
      </ByFormula>
      <LookChoice chosen={chosen} name="align" label={t('designer.align')} choices={ALIGNS} />
      <ByFormula
        holder={chosen}
        name="background"
        label={t('look.background')}
        start={quoted(look('background') ?? '#f3e6c8')}
      >
        <ColorBox
          label={t('look.background')}
          value={look('background')}
          onPick={(background) => setLook({ background })}
          onClear={() => setLook({ background: null })}
        />
      </ByFormula>
      {chosen.items.length === 1 && <Highlights chosen={chosen} />}
    </Section>
  );
};

/** Alignment is what a style of the themes leaves to the item; the rest of its own look gives way to a new style. */
const kept = (look: Look | undefined): Look | null => {
  const rest = Object.fromEntries(
    (['align', 'stands', 'padding', 'border'] as const).flatMap((k) => (look?.[k] === undefined ? [] : [[k, look[k]]])),
  );
  return Object.keys(rest).length > 0 ? rest : null;
};

/** Names of the styles that themes set are told in the reader's language. */
export const styleName = (t: (key: string, more: { defaultValue: string }) => string, style: string): string =>
  t(`look.style_${style}`, { defaultValue: style });

const ALIGNS = [
  ['left', 'designer.left', AlignLeft],
  ['center', 'designer.center', AlignCenter],
  ['right', 'designer.right', AlignRight],
  ['justify', 'designer.justify', AlignJustify],
] as const;

const STANDS = [
  ['top', 'look.top', AlignVerticalJustifyStart],
  ['middle', 'look.middle', AlignVerticalJustifyCenter],
  ['bottom', 'look.bottom', AlignVerticalJustifyEnd],
] as const;

/** Where the words stand in their item: one icon for each way. */
const LookChoice = ({
  chosen,
  name,
  label,
  choices,
}: {
  chosen: Chosen;
  name: 'align' | 'stands';
  label: string;
  choices: typeof ALIGNS | typeof STANDS;
}) => {
  const { t } = useTranslation();
  const now = chosen.look(name) ?? DEFAULT_LOOK[name];
  return (
    <ByFormula holder={chosen} name={name} label={label} start={quoted(now)}>
      <span className="flex gap-1">
        {choices.map(([value, key, Icon]) => (
          <Toggle key={value} label={t(key)} on={now === value} onClick={() => chosen.setLook({ [name]: value })}>
            <Icon size={14} />
          </Toggle>
        ))}
      </span>
    </ByFormula>
  );
};

const LETTERS = [
  ['bold', 'designer.bold'],
  ['italic', 'designer.italic'],
  ['underline', 'look.underline'],
  ['strike', 'look.strike'],
] as const;

const MoreLook = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const { look, setLook } = chosen;
  return (
    <>
      {LETTERS.map(([name, label]) => (
        <CheckByFormula
          key={name}
          holder={chosen}
          name={name}
          label={t(label)}
          checked={look(name) ?? false}
          onChange={(on) => setLook({ [name]: on })}
        />
      ))}
      <LookChoice chosen={chosen} name="stands" label={t('look.stands')} choices={STANDS} />
      <BorderBox chosen={chosen} />
      <ByFormula holder={chosen} name="radius" label={t('look.radius')} start={String(look('radius') ?? 0)}>
        <NumberBox label={t('look.radius')} value={look('radius') ?? 0} onCommit={(radius) => setLook({ radius })} />
      </ByFormula>
      <ByFormula holder={chosen} name="opacity" label={t('look.opacity')} start={String(look('opacity') ?? 1)}>
        <NumberBox
          label={t('look.opacity')}
          unit="%"
          most={100}
          value={Math.round((look('opacity') ?? 1) * 100)}
          onCommit={(percent) => setLook({ opacity: percent === 100 ? null : percent / 100 })}
        />
      </ByFormula>
      <ByFormula holder={chosen} name="turn" label={t('look.turn')} start={String(look('turn') ?? 0)}>
        <NumberBox
          label={t('look.turn')}
          unit="°"
          least={-360}
          most={360}
          value={look('turn') ?? 0}
          onCommit={(turn) => setLook({ turn: turn === 0 ? null : turn })}
        />
      </ByFormula>
      <ByFormula
        holder={chosen}
        name="spacing"
        label={t('look.spacing')}
        start={String(look('spacing') ?? DEFAULT_LOOK.spacing)}
      >
        <NumberBox
          label={t('look.spacing')}
          unit=""
          least={0.8}
          most={4}
          value={look('spacing') ?? DEFAULT_LOOK.spacing}
          onCommit={(spacing) => setLook({ spacing })}
        />
      </ByFormula>
    </>
  );
};
