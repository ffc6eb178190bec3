import type { FoldState } from '@gaveta/core/internal';
import { ListChevronsUpDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';

const ALL = [
  ['open', 'viewer.openAll'],
  ['closed', 'viewer.closeAll'],
  ['start', 'viewer.asAtFirst'],
] as const satisfies [FoldState['base'], string][];

/** Opens or closes everything that can be. */
export const FoldsMenu = ({ onAll }: { onAll: (base: FoldState['base']) => void }) => {
  const { t } = useTranslation();
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <IconButton label={t('viewer.folds')}>
          <ListChevronsUpDown size={16} />
        </IconButton>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu z-60" align="start">
          {ALL.map(([base, words]) => (
            <DropdownMenu.Item key={base} className="menu-item" onSelect={() => onAll(base)}>
              {t(words)}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};
