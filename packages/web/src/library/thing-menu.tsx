import { useNavigate } from 'react-router';
import type { Thing } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { isAtLeast } from '../ui/folder-tree.ts';
import { MenuLine } from '../ui/menu-line.tsx';
import { SmallMenu } from '../ui/small-menu.tsx';
import { addressOf } from './address.ts';
import { type LibraryWork, useRights } from './use-library.ts';

interface ThingMenuProps {
  thing: Thing;
  work: LibraryWork;
  canDesign: boolean;
  /** The host leaves the designer out. */
  isDesignHidden: boolean;
  onDetails: () => void;
  onRename: () => void;
  onDelete: () => void;
}

/** All that can be done with a thing. */
export const ThingMenu = (props: ThingMenuProps) => {
  const { thing, work, canDesign, isDesignHidden, onDetails, onRename, onDelete } = props;
  const { t } = useTranslation();
  const navigate = useNavigate();
  const mayDeliver = useRights().session?.rights.includes('deliver') ?? false;
  const mayChange = canDesign && isAtLeast(thing.may, 'change') && !isDesignHidden;
  return (
    <SmallMenu label={t('library.thingMenu', { name: thing.name })}>
      <MenuLine onSelect={() => navigate(addressOf(thing))}>{t('library.open')}</MenuLine>
      {mayChange && thing.kind === 'report' && (
        <MenuLine onSelect={() => navigate(`/reports/${thing.id}/design`)}>{t('library.design')}</MenuLine>
      )}
      <MenuLine onSelect={onDetails}>{t('library.details')}</MenuLine>
      <MenuLine onSelect={() => void work.star(thing)}>
        {t(thing.isStarred ? 'library.unstar' : 'library.star')}
      </MenuLine>
      {mayChange && <MenuLine onSelect={onRename}>{t('library.renameIt')}</MenuLine>}
      {canDesign && !isDesignHidden && thing.kind !== 'connection' && (
        <MenuLine onSelect={() => void work.copy(thing, t('designer.copyName', { name: thing.name }))}>
          {t('library.duplicate')}
        </MenuLine>
      )}
      {mayChange && thing.kind === 'report' && (
        <MenuLine
          onSelect={() =>
            void work.asTemplate(
              thing,
              t(thing.isTemplate ? 'library.noTemplateNow' : 'library.templateNow', { name: thing.name }),
            )
          }
        >
          {t(thing.isTemplate ? 'library.noTemplate' : 'library.makeTemplate')}
        </MenuLine>
      )}
      {mayChange && thing.kind === 'report' && (
        <MenuLine onSelect={() => navigate(`/reports/${thing.id}/revisions`)}>{t('library.revisions')}</MenuLine>
      )}
      {mayDeliver && (thing.kind === 'report' || thing.kind === 'sketch') && (
        <MenuLine onSelect={() => navigate(`/deliveries/new?report=${encodeURIComponent(thing.id)}`)}>
          {t('deliveries.deliver')}
        </MenuLine>
      )}
      {mayChange && <MenuLine onSelect={onDelete}>{t('library.delete')}</MenuLine>}
    </SmallMenu>
  );
};
