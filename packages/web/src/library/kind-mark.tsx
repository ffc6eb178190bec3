import { Database, ListOrdered } from 'lucide-react';
import type { Thing } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';

/** What stands for a recipe or connection, which has no page to show. */
export const KindMark = ({ thing, isSmall = false }: { thing: Thing; isSmall?: boolean }) => {
  const { t } = useTranslation();
  const Icon = thing.kind === 'recipe' ? ListOrdered : Database;
  return (
    <span aria-hidden className="absolute inset-0 grid place-items-center bg-brass-soft/30 text-brass">
      <span className="flex flex-col items-center gap-2">
        <Icon size={isSmall ? 14 : 30} strokeWidth={1.4} />
        {!isSmall && <span className="text-[12px] text-ink-3">{t(`library.kind_${thing.kind}`)}</span>}
      </span>
    </span>
  );
};
