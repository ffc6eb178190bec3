import { AlertDialog } from 'radix-ui';
import { create } from 'zustand';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from './controls.tsx';
import { Question } from './dialog.tsx';

interface Asked {
  /** What would happen. */
  text: string;
  /** The verb that does it. */
  action: string;
  answer: (agreed: boolean) => void;
}

const useQuestion = create<{ question: Asked | null }>(() => ({ question: null }));

/** Asks before something that cannot be undone; resolves once somebody has answered. A question that was still open counts as no. */
export const agreed = (text: string, action: string): Promise<boolean> => {
  useQuestion.getState().question?.answer(false);
  return new Promise((resolve) => {
    const answer = (yes: boolean): void => {
      useQuestion.setState({ question: null });
      resolve(yes);
    };
    useQuestion.setState({ question: { text, action, answer } });
  });
};

/** Shows the question that is open; stands once in the application. */
export const Questions = () => {
  const { t } = useTranslation();
  const question = useQuestion((s) => s.question);
  return (
    <Question title={question?.action ?? null} onClose={() => question?.answer(false)}>
      <AlertDialog.Description>{question?.text}</AlertDialog.Description>
      <div className="mt-4 flex justify-end gap-2">
        <AlertDialog.Cancel asChild>
          <Button>{t('app.cancel')}</Button>
        </AlertDialog.Cancel>
        <Button look="primary" onClick={() => question?.answer(true)}>
          {question?.action}
        </Button>
      </div>
    </Question>
  );
};
