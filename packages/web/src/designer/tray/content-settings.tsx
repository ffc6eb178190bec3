import { type Item, turnInto, turnsInto } from '@gaveta/core/internal';
import { useMemo } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Pick } from '../../ui/pick.tsx';
import { useDesign } from '../design/context.ts';
import { roomOfKind } from '../items/rooms.ts';
import type { Chosen } from '../settings/item-context.ts';
import { ContentFoot } from '../settings/setting.tsx';

/** What one item shows, or what several have in common. */
export const ItemContent = ({ chosen }: { chosen: Chosen }) => {
  const [item] = chosen.items;
  if (!item) return null;
  const { Content, SharedContent } = roomOfKind(item.kind);
  if (chosen.items.length > 1)
    return SharedContent && chosen.items.every(({ kind }) => kind === item.kind) ? (
      <SharedContent chosen={chosen} />
    ) : null;
  return (
    Content && (
      <ContentFoot.Provider value={<TurnInto item={item} chosen={chosen} />}>
        <Content item={item} chosen={chosen} />
      </ContentFoot.Provider>
    )
  );
};

/** What else the item could be, with the same value. */
const TurnInto = ({ item, chosen }: { item: Item; chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const kinds = useMemo(() => turnsInto(report, item.id, plan), [report, item.id, plan]);
  if (kinds.length === 0) return null;
  return (
    <Pick
      label={t('designer.turnInto')}
      choices={kinds.map((kind) => ({ value: kind, label: t(`kinds.${kind}`) }))}
      onPick={(kind) => {
        const edit = turnInto(report, item.id, kind);
        if (edit) chosen.edit(t('edits.turnInto', { kind: t(`kinds.${kind}`).toLowerCase() }), edit);
      }}
    />
  );
};
