import type { AnswerOf } from '@gaveta/core/contract';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { isAtLeast } from '../ui/folder-tree.ts';

type Shown = AnswerOf<'GET /reports/:id'>;

/** Of a report that was saved since it was published, for those who may change it: which of the two is shown, and the other one. */
export const WhichRevision = ({
  stored,
  onShow,
}: {
  /** Null: what is shown is not stored. */
  stored: Shown | null;
  onShow: (which: 'published' | 'newest') => void;
}) => {
  const { t } = useTranslation();
  if (!stored || stored.published === null || !isAtLeast(stored.may, 'change')) return null;
  const { shown, published, revision } = stored;
  if (published === revision) return null;
  const count = revision - published;
  return (
    <Button
      look="chip"
      className="min-w-0 bg-brass-soft/60 text-[12px]"
      data-which={shown === published ? 'published' : 'newest'}
      onClick={() => onShow(shown === published ? 'newest' : 'published')}
    >
      <span className="truncate">
        {shown === published ? t('viewer.showNewest', { count, revision: published }) : t('viewer.showPublished')}
      </span>
    </Button>
  );
};
