import type { Problem } from '@gaveta/core/internal';
import { ApiFailure } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { errorWords, problemKey, problemWords } from '../i18n/words.ts';
import { Button, Notice } from './controls.tsx';

/** Words for anything that was thrown. */
export const useFailureText = () => {
  const { t } = useTranslation();
  return (error: unknown): { title: string; detail: string; problems: Problem[] } => {
    if (!(error instanceof ApiFailure)) return { title: t('errors.title'), detail: String(error), problems: [] };
    const { code, status } = error;
    if (code === 'network' || code === 'refused' || code === 'refused-size')
      return { title: t('errors.title'), detail: t(`errors.${code}`, { status }), problems: [] };
    const { problems } = error.document;
    return {
      ...errorWords(error),
      problems: Array.isArray(problems) ? (problems as Problem[]) : [],
    };
  };
};

export const Failure = ({ error, title, retry }: { error: unknown; title?: string; retry?: () => void }) => {
  const { t } = useTranslation();
  const said = useFailureText()(error);
  return (
    <Notice title={title ?? said.title} action={retry && <Button onClick={retry}>{t('app.retry')}</Button>}>
      <p className="text-rust">{said.detail}</p>
      {said.problems.length > 0 && (
        <ul className="mt-2 list-disc ps-5">
          {said.problems.map((p) => (
            <li key={problemKey(p)}>{problemWords(p)}</li>
          ))}
        </ul>
      )}
    </Notice>
  );
};
