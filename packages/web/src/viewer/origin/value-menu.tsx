import { DropdownMenu } from 'radix-ui';
import { useTranslation } from '../../i18n/use-translation.ts';
import { copyCells } from '../copying/copy-table.ts';
import { tableAround } from '../copying/selected-texts.ts';
import { cellsOf } from '../copying/table-text.ts';
import type { ShownValue } from './value-at.ts';

export interface MenuAt {
  value: ShownValue;
  /** In CSS pixels of the window. */
  x: number;
  y: number;
}

export interface ValueAction {
  id: string;
  label: string;
  shortcut?: string;
  run: () => void;
}

interface ValueMenuProps {
  at: MenuAt;
  /** What else can be done with the value. */
  actions: readonly ValueAction[];
  onClose: () => void;
}

/** What can be done with a value on a page, where it was pressed. */
export const ValueMenu = ({ at: { value, x, y }, actions, onClose }: ValueMenuProps) => {
  const { t } = useTranslation();
  const { text, element } = value;
  const copying: ValueAction[] = [
    ...(text === ''
      ? []
      : [{ id: 'copy', label: t('viewer.copy.value'), run: () => void copyCells([[text]]).catch(() => {}) }]),
    {
      id: 'table',
      label: t('viewer.copy.page'),
      run: () => void copyCells(cellsOf(tableAround(element))).catch(() => {}),
    },
  ];
  return (
    <DropdownMenu.Root open onOpenChange={(open) => !open && onClose()}>
      <DropdownMenu.Trigger aria-hidden tabIndex={-1} className="fixed size-0" style={{ left: x, top: y }} />
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu z-60" align="start" aria-label={t('viewer.origin.menu')}>
          {[...actions, ...copying].map(({ id, label, shortcut, run }) => (
            <DropdownMenu.Item key={id} className="menu-item flex items-center gap-4" onSelect={run}>
              <span className="flex-1">{label}</span>
              {shortcut && <kbd className="text-[11px] text-ink-3">{shortcut}</kbd>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};
