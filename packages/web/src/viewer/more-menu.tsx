import { Check, ChevronRight, Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useHostActions } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import type { Refresh } from './refresh/use-refresh.ts';

/** Seconds between two runs that are offered. */
const OFFERED = [10, 30, 60, 300, 900] as const;

interface MoreMenuProps {
  onAction: (action: string) => void;
  /** Null where it is not offered. */
  refresh: Refresh | null;
  /** Opens the report in a window of its own; null where that is not offered. */
  onWindow: (() => void) | null;
  /** Leads back to the host; null where one is not away from it. */
  onLeave: (() => void) | null;
  /** Shows links to share it by; null where that is not offered. */
  onShare: (() => void) | null;
  /** Begins a delivery of it; null where that is not offered. */
  onDeliver: (() => void) | null;
  /** Deletes the report; null where that is not offered. */
  onDelete: (() => void) | null;
}

/** What is needed now and then, and the entries that the host’s page adds. */
export const MoreMenu = ({ onAction, refresh, onWindow, onLeave, onShare, onDeliver, onDelete }: MoreMenuProps) => {
  const { t } = useTranslation();
  const actions = useHostActions('menu');
  if (actions.length === 0 && !refresh && !onWindow && !onLeave && !onShare && !onDeliver && !onDelete) return null;
  const seconds = [...new Set([...OFFERED, ...(refresh?.every ? [refresh.every] : [])])].sort((a, b) => a - b);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <IconButton label={t('viewer.more')}>
          <Ellipsis size={16} />
        </IconButton>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu z-60" align="end">
          {actions.map(({ id, label }) => (
            <DropdownMenu.Item key={id} className="menu-item" onSelect={() => onAction(id)}>
              {label}
            </DropdownMenu.Item>
          ))}
          {refresh && (
            <>
              <DropdownMenu.Item className="menu-item" onSelect={refresh.now}>
                {t('viewer.refresh.now')}
              </DropdownMenu.Item>
              <DropdownMenu.Sub>
                <DropdownMenu.SubTrigger className="menu-item flex items-center gap-4">
                  <span className="flex-1">
                    {refresh.every === null
                      ? t('viewer.refresh.off')
                      : t('viewer.refresh.on', { every: everyWords(t, refresh.every) })}
                  </span>
                  <ChevronRight size={13} aria-hidden />
                </DropdownMenu.SubTrigger>
                <DropdownMenu.Portal>
                  <DropdownMenu.SubContent className="menu z-60">
                    {[null, ...seconds].map((one) => (
                      <DropdownMenu.CheckboxItem
                        key={String(one)}
                        className="menu-item flex items-center gap-1.5"
                        checked={refresh.every === one}
                        onSelect={() => refresh.set(one)}
                      >
                        <span className="inline-grid w-4 place-items-center">
                          {refresh.every === one && <Check size={13} aria-hidden />}
                        </span>
                        {one === null ? t('viewer.refresh.never') : everyWords(t, one)}
                      </DropdownMenu.CheckboxItem>
                    ))}
                  </DropdownMenu.SubContent>
                </DropdownMenu.Portal>
              </DropdownMenu.Sub>
            </>
          )}
          {onWindow && (
            <DropdownMenu.Item className="menu-item" onSelect={onWindow}>
              {t('viewer.ownWindow_open')}
            </DropdownMenu.Item>
          )}
          {onLeave && (
            <DropdownMenu.Item className="menu-item" onSelect={onLeave}>
              {t('viewer.ownWindow_leave')}
            </DropdownMenu.Item>
          )}
          {onShare && (
            <DropdownMenu.Item className="menu-item" onSelect={onShare}>
              {t('share.open')}
            </DropdownMenu.Item>
          )}
          {onDeliver && (
            <DropdownMenu.Item className="menu-item" onSelect={onDeliver}>
              {t('deliveries.deliver')}
            </DropdownMenu.Item>
          )}
          {onDelete && (
            <DropdownMenu.Item className="menu-item" onSelect={onDelete}>
              {t('viewer.delete')}
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};

const everyWords = (t: ReturnType<typeof useTranslation>['t'], seconds: number): string =>
  seconds % 60 === 0
    ? t('viewer.refresh.minutes', { count: seconds / 60 })
    : t('viewer.refresh.seconds', { count: seconds });
