import { modelsOf, type Report, repoint } from '@gaveta/core/internal';
import { useState } from 'react';
import type { ModelWithOrigin } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { useDesigner } from './design/state.ts';

/** Says which data a report needs that this host does not have, and points it at another one. */
export const MissingModels = ({ report, models }: { report: Report; models: readonly ModelWithOrigin[] }) => {
  const missing = modelsOf(report).filter(
    (name) => !models.some((m) => m.name === name && m.origin.kind !== 'missing'),
  );
  return missing.map((name) => <Missing key={name} name={name} report={report} models={models} />);
};

const Missing = ({ name, report, models }: { name: string; report: Report; models: readonly ModelWithOrigin[] }) => {
  const { t } = useTranslation();
  const [to, setTo] = useState('');
  const known = models.find((m) => m.name === name);
  return (
    <div role="alert" className="flex flex-wrap items-center gap-2 border-b border-brass bg-brass-soft px-3.5 py-2">
      <span className="me-auto">
        {known
          ? t('designer.missingConnection', { name, connection: known.origin.connection })
          : t('designer.missingModel', { name })}
      </span>
      <Select
        label={t('designer.useInstead')}
        className="max-w-56"
        value={to}
        blank={t('designer.useInstead')}
        choices={models
          .filter((m) => m.name !== name && m.origin.kind !== 'missing')
          .map((m) => ({ value: m.name, label: m.label }))}
        onPick={setTo}
      />
      <Button
        disabled={to === ''}
        onClick={() =>
          useDesigner.getState().edit(t('edits.repoint'), { do: 'report', settings: repoint(report, name, to) })
        }
      >
        {t('designer.repoint')}
      </Button>
    </div>
  );
};
