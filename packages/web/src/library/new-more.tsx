import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useRef } from 'react';
import { useNavigate } from 'react-router';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { MenuLine } from '../ui/menu-line.tsx';
import { PictureInput } from '../ui/picture-input.tsx';
import { type LibraryWork, useRights, useUndo } from './use-library.ts';

/** What else can be put into the library: themes, pictures, recipes and connections. */
export const NewMore = ({ work, folder }: { work: LibraryWork; folder: string | null }) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const { session } = useRights();
  const file = useRef<HTMLInputElement>(null);
  const keep = async (source: string, chosen: File): Promise<void> => {
    const name = chosen.name.replace(/\.[^.]+$/, '').slice(0, 200) || t('kinds.picture');
    await work.doing(async () => {
      const made = await work.keepPicture(name, source, folder);
      navigate(`/house/pictures/${made.id}`);
    });
  };
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <IconButton label={t('library.newMore')} className="border border-rule">
            <ChevronDown size={15} />
          </IconButton>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={2}
            collisionPadding={4}
            className="z-60 min-w-44 rounded-lg border border-rule bg-paper p-1 shadow-lg"
          >
            <MenuLine onSelect={() => navigate('/house/themes/new')}>{t('library.newTheme')}</MenuLine>
            <MenuLine onSelect={() => file.current?.click()}>{t('library.newPicture')}</MenuLine>
            <MenuLine onSelect={() => navigate('/data/recipes/new')}>{t('data.newRecipe')}</MenuLine>
            {session?.rights.includes('data') && (
              <MenuLine onSelect={() => navigate('/data/connections/new')}>{t('data.newConnection')}</MenuLine>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <PictureInput
        input={file}
        label={t('library.newPicture')}
        onPicture={(source, chosen) => void keep(source, chosen)}
        onProblem={(problem) => problem !== null && useUndo.setState({ last: null, error: problem })}
      />
    </>
  );
};
