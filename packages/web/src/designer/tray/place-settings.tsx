import { roomIn } from '@gaveta/core/internal';
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalSpaceAround,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalSpaceAround,
  type LucideIcon,
  MoveHorizontal,
  MoveVertical,
} from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Check, NumberBox } from '../../ui/commit.tsx';
import { IconButton } from '../../ui/controls.tsx';
import { boardCommands, type CommandId } from '../commands/commands.ts';
import { useDesign } from '../design/context.ts';
import { ByFormula } from '../settings/by-formula.tsx';
import { type Chosen, shared } from '../settings/item-context.ts';

import { Section, Setting } from '../settings/setting.tsx';

const SIDES = ['x', 'y', 'width', 'height'] as const;

/** Buttons for arranging several items, each a command. */
const ARRANGE: readonly [CommandId, LucideIcon][] = [
  ['lineUp_left', AlignStartVertical],
  ['lineUp_centre', AlignCenterVertical],
  ['lineUp_right', AlignEndVertical],
  ['lineUp_top', AlignStartHorizontal],
  ['lineUp_middle', AlignCenterHorizontal],
  ['lineUp_bottom', AlignEndHorizontal],
  ['even_across', AlignHorizontalSpaceAround],
  ['even_down', AlignVerticalSpaceAround],
  ['same_width', MoveHorizontal],
  ['same_height', MoveVertical],
];

/** Where items stand, how large they are, and how they stand to one another. */
export const ItemPlace = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report } = useDesign();
  const { items, ids } = chosen;
  const room = roomIn(report, chosen.address);
  const run = (id: string): void => boardCommands.find((c) => c.id === id)?.run(t);
  const isShare = items.every((i) => i.share?.width !== undefined);
  const locked = items.every((i) => i.locked);
  const isNested = items.some((i) => i.kind === 'subreport');
  return (
    <Section
      title={t('designer.place')}
      section="place"
      more={
        <>
          <Check
            label={t('place.share')}
            checked={isShare}
            onChange={(on) => {
              const [item] = items;
              if (!item) return;
              const share = { x: percent(item.x, room), width: percent(item.width, room) };
              chosen.set(t('place.share'), { share: on ? share : null });
            }}
          />
          <Check
            label={t('place.locked')}
            checked={locked}
            onChange={(on) => chosen.set(t('place.locked'), { locked: on || null })}
          />
          {items.length > 1 && (
            <Check
              label={t('place.panel')}
              checked={items.every((i) => i.panel !== undefined && i.panel === items[0]!.panel)}
              onChange={() => run('panel')}
            />
          )}
        </>
      }
    >
      {SIDES.map((side) => {
        const label = t(`designer.${side}`);
        const share = side === 'x' || side === 'width' ? items[0]?.share?.[side] : undefined;
        const value = shared(items.map((i) => i[side]));
        // A nested report is laid out once for the width it has.
        return (
          <ByFormula key={side} holder={chosen} name={side} label={label} start={String(value ?? 0)} fixed={isNested}>
            {share !== undefined && items.length === 1 ? (
              <NumberBox
                label={label}
                unit="%"
                most={100}
                value={share}
                onCommit={(next) => chosen.set(label, { share: { ...items[0]!.share, [side]: next } })}
              />
            ) : (
              <NumberBox
                label={label}
                value={value}
                onCommit={(next) => place(chosen, t('edits.set', { what: label.toLowerCase() }), side, next)}
              />
            )}
          </ByFormula>
        );
      })}
      {ids.length > 1 && (
        <Setting label={t('place.arrange')} wide>
          <div className="grid grid-cols-5 gap-1">
            {ARRANGE.map(([id, Icon]) => (
              <IconButton key={id} label={t(`command.${id}`)} onClick={() => run(id)}>
                <Icon size={15} aria-hidden />
              </IconButton>
            ))}
          </div>
        </Setting>
      )}
      {items[0]?.column && (
        <Setting label={t('place.column')} wide>
          <div className="flex flex-wrap gap-1">
            {(['evenColumns', 'fitColumns', 'captionFromLabel', 'selectColumn', 'removeColumn'] as const).map((id) => (
              <button
                key={id}
                type="button"
                className="rounded border border-rule px-1.5 py-0.5 text-[12px] hover:bg-desk/60"
                onClick={() => run(id)}
              >
                {t(`command.${id}`)}
              </button>
            ))}
          </div>
        </Setting>
      )}
    </Section>
  );
};

const percent = (part: number, whole: number): number =>
  Math.min(100, Math.max(0, Math.round((part / whole) * 1000) / 10));

const place = (chosen: Chosen, name: string, side: (typeof SIDES)[number], value: number): void =>
  chosen.edit(name, { do: 'place', places: Object.fromEntries(chosen.ids.map((id) => [id, { [side]: value }])) });
