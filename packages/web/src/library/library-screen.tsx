import { useMutation, useQuery } from '@tanstack/react-query';
import { FilePlus2, PencilRuler, Table2, Trash2, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { tellHost } from '../embed/frame.ts';
import { useIsHidden } from '../embed/settings.ts';
import { chooseLanguage, LANGUAGES, type Language } from '../i18n/i18n.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Questions } from '../ui/confirm.tsx';
import { Button, IconButton, inputLook, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { Select } from '../ui/select.tsx';
import { useDeleted, useDeleting } from '../ui/use-deleting.ts';

export const LibraryScreen = () => {
  const { t, i18n } = useTranslation();
  const isHidden = useIsHidden();
  useEffect(() => tellHost({ kind: 'opened', report: null, screen: 'library' }), []);
  const navigate = useNavigate();
  const [find, setFind] = useState('');
  const reports = useQuery(queries.reports());
  const session = useQuery(queries.session());
  const canDesign = session.data?.rights.includes('design') ?? false;
  const drafts = useQuery({ ...queries.drafts(), enabled: canDesign });
  const begun = (drafts.data ?? []).filter((d) => d.report === null);
  const forget = useMutation({ mutationFn: (key: string) => api.removeDraft(key), onSuccess: () => drafts.refetch() });
  const deleting = useDeleting();
  const shown = (reports.data ?? []).filter((r) => r.name.toLowerCase().includes(find.toLowerCase()));
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });

  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 items-center gap-3 border-b border-rule px-4">
        <h1 className="text-[15px] font-semibold">{t('library.title')}</h1>
        {canDesign && (
          <Link to="/data" className="text-ink-2 hover:text-pine">
            {t('data.title')}
          </Link>
        )}
        {session.data?.rights.includes('develop') && (
          <Link to="/embedding" className="text-ink-2 hover:text-pine">
            {t('embedding.title')}
          </Link>
        )}
        <span className="flex-1" />
        {!isHidden('language') && (
          <Select
            label={t('app.language')}
            look="quiet"
            value={i18n.language as Language}
            choices={Object.entries(LANGUAGES).map(([tag, name]) => ({
              value: tag as Language,
              label: name,
              lang: tag,
            }))}
            onPick={(language) => void chooseLanguage(language)}
          />
        )}
        <span className="text-ink-3">{session.data && t('app.signedInAs', { user: session.data.user })}</span>
      </header>
      <main className="mx-auto w-full max-w-3xl flex-1 overflow-auto px-6 py-6">
        <div className="mb-4 flex flex-wrap items-center gap-2">
          <input
            type="search"
            className={`${inputLook} max-w-64`}
            placeholder={t('library.find')}
            aria-label={t('library.find')}
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <span className="flex-1" />
          {canDesign && (
            <Button onClick={() => navigate('/sketches/new')}>
              <Table2 size={15} aria-hidden /> {t('library.newSketch')}
            </Button>
          )}
          {canDesign && (
            <Button look="primary" onClick={() => navigate('/start')}>
              <FilePlus2 size={15} aria-hidden /> {t('library.new')}
            </Button>
          )}
        </div>
        {reports.error && <Failure error={reports.error} retry={() => void reports.refetch()} />}
        <Deleted restore={deleting.restore} />
        {deleting.remove.error && <Failure error={deleting.remove.error} />}
        {reports.data?.length === 0 && <Notice>{t('library.empty')}</Notice>}
        {reports.data && reports.data.length > 0 && shown.length === 0 && (
          <Notice>{t('library.none', { text: find })}</Notice>
        )}
        {begun.length > 0 && (
          <section
            aria-label={t('library.begun')}
            className="mb-3 rounded-md border border-brass bg-brass-soft/50 px-3 py-2"
          >
            <h2 className="font-semibold">{t('library.begun')}</h2>
            <ul>
              {begun.map((draft) => (
                <li key={draft.key} className="flex items-center gap-2 py-0.5">
                  <Link
                    to={draft.kind === 'sketch' ? `/sketches/new/${draft.key}` : `/new/${draft.key}`}
                    className="min-w-0 flex-1 truncate hover:text-pine"
                  >
                    {draft.name}{' '}
                    <span className="text-ink-3">
                      {t('library.begunAt', { when: when.format(new Date(draft.savedAt)) })}
                    </span>
                  </Link>
                  <Button
                    look="quiet"
                    onClick={() => forget.mutate(draft.key)}
                    aria-label={t('library.drop', { name: draft.name })}
                  >
                    {t('library.dropIt')}
                  </Button>
                </li>
              ))}
            </ul>
          </section>
        )}
        <ul className="divide-y divide-rule-soft">
          {shown.map((report) => (
            <li key={report.id} className="flex items-center gap-3 py-2.5">
              <Link
                to={report.kind === 'sketch' ? `/sketches/${report.id}` : `/reports/${report.id}`}
                className="min-w-0 flex-1 rounded px-1 hover:text-pine"
              >
                <span className="block text-[15px] font-semibold">
                  {report.name}
                  {report.kind === 'sketch' && (
                    <span className="ms-2 rounded bg-brass-soft px-1.5 text-[11.5px] font-normal text-ink-2">
                      {t('library.sketch')}
                    </span>
                  )}
                </span>
                <span className="text-ink-3">
                  {t('library.changed', {
                    revision: report.revision,
                    who: report.changedBy,
                    when: when.format(new Date(report.changedAt)),
                  })}
                </span>
              </Link>
              {report.kind === 'report' && canDesign && !isHidden('design') && (
                <Button
                  onClick={() => navigate(`/reports/${report.id}/design`)}
                  aria-label={`${t('library.design')} ${report.name}`}
                >
                  <PencilRuler size={14} aria-hidden /> {t('library.design')}
                </Button>
              )}
              {canDesign && !isHidden('design') && (
                <IconButton
                  label={t('library.deleteNamed', { name: report.name })}
                  disabled={deleting.remove.isPending}
                  onClick={() => deleting.remove.mutate(report)}
                >
                  <Trash2 size={15} />
                </IconButton>
              )}
            </li>
          ))}
        </ul>
      </main>
      <Questions />
    </div>
  );
};

/** Says which report was deleted last, and brings it back. */
const Deleted = ({ restore }: Pick<ReturnType<typeof useDeleting>, 'restore'>) => {
  const { t } = useTranslation();
  const report = useDeleted((s) => s.report);
  if (!report) return null;
  return (
    <div className="mb-3 flex items-center gap-2 rounded-md border border-rule bg-pine-soft/50 py-1.5 ps-3 pe-1.5">
      <span role="status" className="min-w-0 flex-1">
        {t('library.deleted', { name: report.name })}
        {restore.error && <span className="ms-2 text-rust">{String(restore.error.message)}</span>}
      </span>
      <Button disabled={restore.isPending} onClick={() => restore.mutate(report)}>
        {t('library.restore')}
      </Button>
      <IconButton label={t('app.close')} onClick={() => useDeleted.setState({ report: null })}>
        <X size={14} />
      </IconButton>
    </div>
  );
};
