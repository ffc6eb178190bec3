import { useTranslation } from '../../../i18n/use-translation.ts';
import { CommitBox } from '../../../ui/commit.tsx';
import { Setting } from '../../settings/setting.tsx';

interface Props {
  of: { caption?: string | undefined; format?: string | undefined };
  onChange: (next: { caption?: string | null; format?: string | null }) => void;
}

/** What a group or a value of a crosstab is called, and the number format in which it is shown. */
export const CaptionAndFormat = ({ of, onChange }: Props) => {
  const { t } = useTranslation();
  const filled = (text: string): string | null => (text.trim() === '' ? null : text);
  return (
    <>
      <Setting label={t('crosstab.caption')}>
        <CommitBox
          label={t('crosstab.caption')}
          value={of.caption ?? ''}
          onCommit={(caption) => onChange({ caption: filled(caption) })}
        />
      </Setting>
      <Setting label={t('crosstab.format')}>
        <CommitBox
          label={t('crosstab.format')}
          mono
          value={of.format ?? ''}
          onCommit={(format) => onChange({ format: filled(format) })}
        />
      </Setting>
    </>
  );
};
