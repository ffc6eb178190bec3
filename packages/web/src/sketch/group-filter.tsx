import { type ColumnCondition, withCondition } from '@gaveta/core/internal';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { useParts } from './parts.ts';
import { groupPlural, labelOf } from './words.ts';

const COMPARED = ['greater', 'greaterOrEqual', 'less', 'lessOrEqual', 'equal', 'notEqual'] as const;
type Compared = (typeof COMPARED)[number];
const isCompared = (is: string): is is Compared => COMPARED.some((one) => one === is);

/** Which groups are kept by what they have in a column: a way in for each level of them. */
export const GroupFilters = ({ column }: { column: string }) => {
  const { t, i18n } = useTranslation();
  const { sketch, reach } = useParts();
  const [of, setOf] = useState<string | null>(null);
  if (of !== null) return <GroupFilter column={column} of={of} />;
  return (
    <>
      {sketch.groups.map((group) => (
        <Button key={group.name} className="justify-center" onClick={() => setOf(group.name)}>
          {t('sketch.keepGroupsDots', { groups: groupPlural(t, group, reach, i18n.language) })}
        </Button>
      ))}
    </>
  );
};

/** Keeps the groups of a name whose total in a column compares so. */
export const GroupFilter = ({ column, of }: { column: string; of: string }) => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, fixed } = useParts();
  const at = sketch.only.findIndex((c, i) => i >= fixed && 'column' in c && c.column === column && c.of === of);
  const condition = at < 0 ? null : (sketch.only[at] as ColumnCondition);
  const given = condition?.to && 'value' in condition.to ? String(condition.to.value) : '';
  const [is, setIs] = useState<Compared>(condition && isCompared(condition.is) ? condition.is : 'greater');
  const [value, setValue] = useState(given);
  const group = sketch.groups.find(({ name }) => name === of);
  if (!group) return null;
  const number = Number(value.trim().replace(',', '.'));
  const isBad = value.trim() === '' || !Number.isFinite(number);
  const groups = groupPlural(t, group, reach, i18n.language);
  const put = (next: ColumnCondition): void =>
    change(at < 0 ? { ...sketch, only: [...sketch.only, next] } : withCondition(sketch, at, next));
  return (
    <form
      aria-label={t('sketch.keepGroups', { groups, column: labelOf(sketch, column, reach) })}
      className="flex flex-col gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isBad) put({ column, of, is, to: { value: number } });
      }}
    >
      <h3 className="font-semibold">{t('sketch.keepGroups', { groups, column: labelOf(sketch, column, reach) })}</h3>
      <div className="flex gap-1.5">
        <Select
          label={t('data.comparison')}
          value={is}
          choices={COMPARED.map((one) => ({ value: one, label: t(`data.is_${one}`) }))}
          onPick={setIs}
        />
        <input
          // biome-ignore lint/a11y/noAutofocus: it was opened to be written in
          autoFocus
          className={inputLook}
          aria-label={t('data.value')}
          inputMode="decimal"
          value={value}
          onChange={({ target }) => setValue(target.value)}
        />
        <Button type="submit" disabled={isBad}>
          {t('sketch.keep')}
        </Button>
      </div>
    </form>
  );
};
