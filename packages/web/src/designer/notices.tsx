import type { Report } from '@gaveta/core/internal';
import type { ReactNode } from 'react';
import type { ModelWithOrigin, Presence } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import { MissingModels } from './missing-models.tsx';
import type { DocumentState } from './use-document.ts';

interface NoticesProps {
  report: Report;
  models: readonly ModelWithOrigin[] | undefined;
  document: DocumentState;
  presence: Presence | null;
  trouble: string | null;
  onTrouble: (words: string | null) => void;
}

/** What the maker should know before going on, each with the ways on. */
export const Notices = ({ report, models, document, presence, trouble, onTrouble }: NoticesProps) => {
  const { t, i18n } = useTranslation();
  const said = useFailureText();
  const { conflict, broughtBack, saveError, base } = document;
  const newer = presence?.stored && presence.stored.revision > base && base > 0 && !conflict ? presence.stored : null;
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const waysOn = (revision: number): ReactNode => (
    <>
      <Button onClick={document.saveCopy}>{t('designer.conflictCopy')}</Button>
      <Button onClick={() => document.save({ over: revision })}>{t('designer.conflictOver')}</Button>
      <Button onClick={document.openStored}>{t('designer.conflictTheirs')}</Button>
    </>
  );
  return (
    <div>
      {models && <MissingModels report={report} models={models} />}
      {broughtBack !== null && (
        <Notice>
          <span className="me-auto">
            {t('designer.broughtBack', {
              when: when.format(new Date(broughtBack.savedAt)),
              count: broughtBack.changes,
            })}
          </span>
          <Button onClick={document.dismissBroughtBack}>{t('designer.goOn')}</Button>
          <Button onClick={document.openStored}>
            {t(broughtBack.fromOther ? 'designer.leaveWork' : 'designer.dropWork')}
          </Button>
        </Notice>
      )}
      {document.others.map((other) => (
        <Notice key={other.key}>
          <span className="me-auto">
            {t('designer.otherWork', { when: when.format(new Date(other.savedAt)), revision: other.base })}
          </span>
          <Button onClick={() => document.openOther(other)}>{t('designer.openOther')}</Button>
          <Button onClick={() => document.removeOther(other)}>{t('designer.removeOther')}</Button>
        </Notice>
      ))}
      {conflict && (
        <Notice isAlert>
          <span className="me-auto">
            {t('designer.conflict', { author: conflict.changedBy, revision: conflict.revision })}
          </span>
          {waysOn(conflict.revision)}
        </Notice>
      )}
      {newer && (
        <Notice>
          <span className="me-auto">
            {t('designer.newerStored', { author: newer.changedBy, revision: newer.revision })}
          </span>
          {document.changed ? (
            waysOn(newer.revision)
          ) : (
            <Button onClick={document.openStored}>{t('designer.openNewer')}</Button>
          )}
        </Notice>
      )}
      {saveError !== null && saveError !== undefined && (
        <p role="alert" className="border-b border-rust bg-rust-soft px-3.5 py-2 text-rust-strong">
          {t('designer.saveFailed', { detail: said(saveError).detail })}
        </p>
      )}
      {trouble !== null && (
        <p role="alert" className="flex items-center border-b border-rust bg-rust-soft px-3.5 py-2 text-rust-strong">
          {trouble}
          <button type="button" className="ms-auto underline" onClick={() => onTrouble(null)}>
            {t('app.close')}
          </button>
        </p>
      )}
    </div>
  );
};

const Notice = ({ isAlert = false, children }: { isAlert?: boolean; children: ReactNode }) => (
  <div
    role={isAlert ? 'alert' : 'status'}
    className="flex flex-wrap items-center gap-2 border-b border-brass bg-brass-soft px-3.5 py-2"
  >
    {children}
  </div>
);
