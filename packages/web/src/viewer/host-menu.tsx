import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useHostActions } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';

/** Entries that the host’s page adds, behind a button of their own; nothing where there are none. */
export const HostMenu = ({ onPress }: { onPress: (action: string) => void }) => {
  const { t } = useTranslation();
  const actions = useHostActions('menu');
  if (actions.length === 0) return null;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <IconButton label={t('viewer.more')}>
          <Ellipsis size={16} />
        </IconButton>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu" align="end">
          {actions.map(({ id, label }) => (
            <DropdownMenu.Item key={id} className="menu-item" onSelect={() => onPress(id)}>
              {label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};
