import type { Condition, Step } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries.ts';
import { ConditionEditor } from '../../data/condition-editor.tsx';
import { usePlannedDraft } from '../../data/recipe-editor.tsx';
import { SourceSelect } from '../../data/source-select.tsx';
import { sourceChoices } from '../../data/sources.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button } from '../../ui/controls.tsx';
import { Row } from './section.tsx';

const NO_CONDITION: Condition = { all: [] };

/** Rows of a table or recipe, and a condition that they meet. Steps that were written elsewhere stay as they are. */
export const RowsBox = ({
  label,
  steps,
  onChange,
}: {
  label: string;
  steps: Step[];
  onChange: (steps: Step[]) => void;
}) => {
  const { t } = useTranslation();
  const models = useQuery(queries.models()).data ?? [];
  const recipes = useQuery(queries.recipes()).data ?? [];
  const [take, keep] = steps;
  const planned = usePlannedDraft({ name: 'rows', steps: take ? [take] : [], parameters: [] }, { models, recipes });
  const isPlain = steps.length <= 2 && (!take || take.step === 'take') && (!keep || keep.step === 'keep');
  if (!isPlain)
    return (
      <Row label={label}>
        <span>{t('deliveries.otherSteps', { count: steps.length })}</span>
        <Button onClick={() => onChange([])}>{t('deliveries.chooseRows')}</Button>
      </Row>
    );
  const condition = keep?.step === 'keep' ? keep.where : NO_CONDITION;
  return (
    <>
      <Row label={label}>
        <span className="w-72 max-w-full">
          <SourceSelect
            label={label}
            sources={sourceChoices(models, recipes, t('data.recipes'), null)}
            value={take?.step === 'take' ? take.from : null}
            onPick={(from) => onChange([{ step: 'take', from }])}
          />
        </span>
      </Row>
      {take && (
        <Row label={t('deliveries.onlyRows')}>
          <div className="max-w-xl flex-1">
            <ConditionEditor
              condition={condition}
              fields={planned?.whole.fields ?? []}
              parameters={[]}
              before={[take]}
              onChange={(where) => {
                const isEmpty =
                  ('all' in where && where.all.length === 0) || ('any' in where && where.any.length === 0);
                onChange(isEmpty ? [take] : [take, { step: 'keep', where }]);
              }}
            />
          </div>
        </Row>
      )}
    </>
  );
};
