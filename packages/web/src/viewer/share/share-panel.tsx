import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Check, Copy, X } from 'lucide-react';
import { useState } from 'react';
import type { ParameterValues } from '../../api/client.ts';
import { linkQueries, links, type SharedLink } from '../../api/links.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button, IconButton, inputLook } from '../../ui/controls.tsx';
import { Failure } from '../../ui/failure.tsx';
import { Select } from '../../ui/select.tsx';

/** Days for which a link can be made. */
const DAYS = ['1', '7', '30', '90', '365'] as const;

interface SharePanelProps {
  report: string;
  /** As the report is shown now. */
  values: ParameterValues;
  /** Whether links for people without an account may be made. */
  mayLink: boolean;
  onClose: () => void;
}

/** Links to the report as it is shown: the address for people who may sign in, and signed links for those who may not. */
export const SharePanel = ({ report, values, mayLink, onClose }: SharePanelProps) => {
  const { t } = useTranslation();
  return (
    <aside
      aria-label={t('share.title')}
      className="fixed end-0 top-11 bottom-0 z-40 flex w-[min(340px,100vw)] flex-col gap-4 overflow-auto border-s border-rule bg-paper p-3.5 shadow-lg"
    >
      <div className="flex items-center gap-2">
        <h2 className="flex-1 text-[14px] font-semibold">{t('share.title')}</h2>
        <IconButton label={t('app.close')} onClick={onClose}>
          <X size={14} />
        </IconButton>
      </div>
      <section>
        <h3 className="mb-1 font-semibold">{t('share.inside')}</h3>
        <p className="mb-1.5 text-ink-2">{t('share.insideHelp')}</p>
        <CopyBox label={t('share.address')} text={window.location.href} />
      </section>
      {mayLink && <OutsideLinks report={report} values={values} />}
    </aside>
  );
};

/** A text with a button that copies it. */
const CopyBox = ({ label, text }: { label: string; text: string }) => {
  const { t } = useTranslation();
  const [isCopied, setIsCopied] = useState(false);
  return (
    <span className="flex gap-1.5">
      <input
        readOnly
        aria-label={label}
        className={inputLook}
        value={text}
        onFocus={(event) => event.target.select()}
      />
      <Button
        onClick={async () => {
          await navigator.clipboard.writeText(text).catch(() => {});
          setIsCopied(true);
        }}
      >
        {isCopied ? <Check size={14} aria-hidden /> : <Copy size={14} aria-hidden />}
        {t(isCopied ? 'share.copied' : 'share.copy')}
      </Button>
    </span>
  );
};

const OutsideLinks = ({ report, values }: Pick<SharePanelProps, 'report' | 'values'>) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const [label, setLabel] = useState('');
  const [days, setDays] = useState<(typeof DAYS)[number]>('7');
  const { data = [], error } = useQuery(linkQueries.list(report));
  const work = useMutation({
    mutationFn: (what: () => Promise<unknown>) => what(),
    onSuccess: () => client.invalidateQueries({ queryKey: ['links', report] }),
  });
  const isWhole = label.trim() !== '';
  return (
    <section>
      <h3 className="mb-1 font-semibold">{t('share.outside')}</h3>
      <p className="mb-1.5 text-ink-2">{t('share.outsideHelp')}</p>
      <form
        className="flex flex-col gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          if (!isWhole) return;
          const wanted = { label: label.trim(), days: Number(days), values };
          work.mutate(() => links.add(report, wanted as Parameters<typeof links.add>[1]));
          setLabel('');
        }}
      >
        <input
          className={inputLook}
          aria-label={t('share.label')}
          placeholder={t('share.label')}
          maxLength={120}
          value={label}
          onChange={(event) => setLabel(event.target.value)}
        />
        <span className="flex gap-1.5">
          <Select
            label={t('share.days')}
            value={days}
            choices={DAYS.map((value) => ({ value, label: t('share.forDays', { count: Number(value) }) }))}
            onPick={setDays}
          />
          <Button look="primary" type="submit" disabled={!isWhole || work.isPending}>
            {t('share.create')}
          </Button>
        </span>
      </form>
      {work.error && <Failure error={work.error} />}
      {error && <Failure error={error} />}
      <ul className="mt-2 divide-y divide-rule-soft">
        {data.map((link) => (
          <LinkLine
            key={link.id}
            link={link}
            onRevoke={() => work.mutate(() => links.revoke(report, link.id))}
            isBusy={work.isPending}
          />
        ))}
      </ul>
    </section>
  );
};

const LinkLine = ({ link, onRevoke, isBusy }: { link: SharedLink; onRevoke: () => void; isBusy: boolean }) => {
  const { t, i18n } = useTranslation();
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium' });
  const given = Object.entries(link.values).map(([name, value]) => `${name}: ${String(value)}`);
  const state =
    link.revokedAt !== null
      ? t('share.revoked', { when: when.format(new Date(link.revokedAt)) })
      : link.address === null
        ? t('share.ended', { when: when.format(new Date(link.endsAt)) })
        : t('share.until', { when: when.format(new Date(link.endsAt)) });
  return (
    <li className="flex flex-col gap-1 py-2" data-link={link.id}>
      <span className="flex items-baseline gap-2">
        <b className="min-w-0 flex-1 truncate font-semibold">{link.label}</b>
        {link.address !== null && (
          <Button
            look="quiet"
            disabled={isBusy}
            aria-label={t('share.revokeNamed', { label: link.label })}
            onClick={onRevoke}
          >
            {t('share.revoke')}
          </Button>
        )}
      </span>
      <span className="text-[12px] text-ink-3">
        {link.by}, {state}, {t('share.opened', { count: link.opened })}
      </span>
      {given.length > 0 && <span className="truncate text-[12px] text-ink-3">{given.join(', ')}</span>}
      {link.address !== null && (
        <CopyBox
          label={t('share.addressOf', { label: link.label })}
          text={new URL(link.address, document.baseURI).href}
        />
      )}
    </li>
  );
};
