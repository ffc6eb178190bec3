import { Check, Languages } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { languageName } from '../i18n/language-name.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';

interface LanguageMenuProps {
  /** Those that the report speaks. */
  languages: readonly string[];
  /** The one that it is shown in. */
  shown: string;
  onChoose: (language: string) => void;
}

/** The languages of a report, each by its own name. */
const LanguageMenu = ({ languages, shown, onChoose }: LanguageMenuProps) => {
  const { t } = useTranslation();
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <IconButton label={t('viewer.language', { name: languageName(shown) })}>
          <Languages size={16} />
        </IconButton>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu z-60" align="start">
          {languages.map((tag) => (
            <DropdownMenu.CheckboxItem
              key={tag}
              lang={tag}
              className="menu-item flex items-center gap-1.5"
              checked={tag === shown}
              onSelect={() => onChoose(tag)}
            >
              <span className="inline-grid w-4 place-items-center">
                {tag === shown && <Check size={13} aria-hidden />}
              </span>
              {languageName(tag)}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};

export default LanguageMenu;
