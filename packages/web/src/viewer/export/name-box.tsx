import { useId } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { inputLook } from '../../ui/controls.tsx';

/** What a file is called where nothing is said. */
const OWN = '{report}';

interface Props {
  value: string;
  /** What may stand in braces. */
  parts: readonly string[];
  onChange: (value: string) => void;
}

/** The pattern of a file’s name; a press on a part puts it at the end. */
export const NameBox = ({ value, parts, onChange }: Props) => {
  const { t } = useTranslation();
  const id = useId();
  return (
    <div className="border-t border-rule pt-2">
      <label className="flex items-center gap-2.5">
        <span className="flex-none text-ink-2">{t('export.fileName')}</span>
        <input
          className={`${inputLook} min-w-0 flex-1`}
          aria-describedby={id}
          maxLength={300}
          placeholder={OWN}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      </label>
      <div id={id} className="mt-1 flex flex-wrap items-center gap-1 text-[11.5px] text-ink-3">
        <span>{t('export.fileNameParts')}</span>
        {parts.map((part) => (
          <button
            key={part}
            type="button"
            className="rounded border border-rule px-1.5 font-mono text-ink-2 hover:bg-desk-2"
            onClick={() => onChange(`${value === '' ? OWN : value} {${part}}`)}
          >
            {`{${part}}`}
          </button>
        ))}
      </div>
    </div>
  );
};
