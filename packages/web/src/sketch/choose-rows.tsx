import type { Source } from '@gaveta/core/internal';
import { Command } from 'cmdk';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import { sourceChoices, sourceOf } from '../data/sources.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { matchWords } from '../ui/match.ts';

interface Props {
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  onPick: (from: Source) => void;
}

/** Tables and recipes to search and pick one. */
export const ChooseRows = ({ models, recipes, onPick }: Props) => {
  const { t } = useTranslation();
  const choices = sourceChoices(models, recipes, t('start.recipe'), null);
  const groups = [...new Set(choices.map(({ group }) => group))];
  return (
    <Command label={t('sketch.findRows')} filter={matchWords} loop className="flex min-h-0 flex-col">
      <Command.Input
        autoFocus
        placeholder={t('sketch.findRows')}
        className="h-9 w-full flex-none border-b border-rule bg-paper px-3 outline-none"
      />
      <Command.List className="min-h-0 flex-1 overflow-auto p-1.5">
        <Command.Empty className="px-2 py-2 text-ink-3">{t('add.none')}</Command.Empty>
        {groups.map((group) => (
          <Command.Group key={group} heading={<span className="px-2 text-[11.5px] text-ink-3">{group}</span>}>
            {choices.map(
              (choice, i) =>
                choice.group === group && (
                  <Command.Item
                    key={choice.id}
                    value={choice.id}
                    keywords={[choice.label, group, String(i)]}
                    className="command-item truncate rounded px-2 py-1"
                    onSelect={() => onPick(sourceOf(choice.id))}
                  >
                    {choice.label}
                  </Command.Item>
                ),
            )}
          </Command.Group>
        ))}
      </Command.List>
    </Command>
  );
};
