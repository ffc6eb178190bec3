import { PUBLISHINGS } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Folder, libraryQueries, type Thing } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { CommitBox } from '../ui/commit.tsx';
import { Button, IconButton } from '../ui/controls.tsx';
import { FolderPick, useFolderName } from '../ui/folder-pick.tsx';
import { isAtLeast, isWithin, ROOT } from '../ui/folder-tree.ts';
import { PublishBox } from '../ui/publish-box.tsx';
import { Select } from '../ui/select.tsx';
import { AccessList } from './access-list.tsx';
import { addressOf, isRun } from './address.ts';
import { FolderZip } from './folder-zip.tsx';
import type { LibraryWork } from './use-library.ts';

const Fact = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="flex items-baseline gap-3 border-b border-rule-soft py-1.5">
    <span className="flex-none text-ink-2">{label}</span>
    <span className="min-w-0 flex-1 truncate text-end font-semibold">{children}</span>
  </div>
);

const Section = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="mt-4">
    <h3 className="mb-1 font-semibold">{title}</h3>
    {children}
  </section>
);

/** The right column: what is told of something, and what can be done about it. */
const Column = ({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) => (
  <aside
    aria-label={title}
    className="min-h-0 overflow-auto border-s border-rule bg-paper p-3.5 max-lg:fixed max-lg:inset-y-0 max-lg:end-0 max-lg:z-40 max-lg:w-[min(320px,100vw)] max-lg:shadow-lg"
  >
    <Head title={title} onClose={onClose} />
    {children}
  </aside>
);

const Head = ({ title, onClose }: { title: string; onClose: () => void }) => {
  const { t } = useTranslation();
  return (
    <div className="flex items-start gap-2">
      <h2 className="min-w-0 flex-1 text-[14px] font-semibold break-words">{title}</h2>
      <IconButton label={t('app.close')} className="-me-1.5 -mt-1" onClick={onClose}>
        <X size={14} />
      </IconButton>
    </div>
  );
};

interface ThingDetailsProps {
  thing: Thing;
  work: LibraryWork;
  canDesign: boolean;
  isDesignHidden: boolean;
  isRenaming: boolean;
  onRenamed: () => void;
  onClose: () => void;
}

export const ThingDetails = (props: ThingDetailsProps) => {
  const { thing, work, canDesign, isDesignHidden, isRenaming, onRenamed, onClose } = props;
  const { t, i18n } = useTranslation();
  const navigate = useNavigate();
  const nameOf = useFolderName();
  const mayChange = canDesign && isAtLeast(thing.may, 'change') && !isDesignHidden;
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const folder = work.folders.find(({ id }) => id === thing.folder);
  const took = new Intl.NumberFormat(i18n.language, { maximumFractionDigits: 1 }).format(thing.seconds ?? 0);
  const { data: users = [] } = useQuery({ ...libraryQueries.users(thing.id), enabled: canDesign });
  const moved = (to: string): void => {
    const target = work.folders.find(({ id }) => id === to);
    if (!target || to === thing.folder) return;
    void work.move(thing, to, t('library.movedTo', { name: thing.name, folder: nameOf(target) }));
  };
  return (
    <Column title={thing.name} onClose={onClose}>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button look="primary" onClick={() => navigate(addressOf(thing))}>
          {t('library.open')}
        </Button>
        {mayChange && thing.kind === 'report' && (
          <Button onClick={() => navigate(`/reports/${thing.id}/design`)}>{t('library.design')}</Button>
        )}
      </div>
      {mayChange ? (
        <div className="mt-3 flex flex-col gap-1.5">
          {isRenaming && (
            // biome-ignore lint/a11y/noStaticElementInteractions: it only notices that the box in it is left
            <span onBlur={onRenamed} ref={(box) => box?.querySelector('input')?.focus()}>
              <CommitBox
                label={t('library.name')}
                value={thing.name}
                most={200}
                onCommit={(name) => {
                  const next = name.trim();
                  if (next !== '' && next !== thing.name)
                    void work.rename(thing, next, t('library.renamedTo', { name: thing.name, next }));
                }}
              />
            </span>
          )}
          <CommitBox
            multiline
            label={t('library.note')}
            placeholder={t('library.note')}
            value={thing.note}
            most={500}
            onCommit={(note) => void work.describe(thing, { note: note.trim() })}
          />
          <CommitBox
            label={t('library.tags')}
            placeholder={t('library.tagsHint')}
            value={thing.tags.join(', ')}
            most={400}
            onCommit={(text) => {
              const tags = [...new Set(text.split(',').map((tag) => tag.trim()))].filter((tag) => tag !== '');
              void work.describe(thing, { tags: tags.slice(0, 20).map((tag) => tag.slice(0, 60)) });
            }}
          />
          <FolderPick label={t('library.folder')} value={thing.folder} onPick={moved} />
        </div>
      ) : (
        <>
          {thing.note !== '' && <p className="mt-2 text-ink-2">{thing.note}</p>}
          {thing.tags.length > 0 && <p className="mt-1 text-[12px] text-ink-3">{thing.tags.join(', ')}</p>}
        </>
      )}
      <div className="mt-3">
        <Fact label={t('library.factChanged')}>
          {thing.changedBy}
          <span className="block font-normal text-ink-2">{when.format(new Date(thing.changedAt))}</span>
        </Fact>
        <Fact label={t('library.factRevision')}>{thing.revision}</Fact>
        {isRun(thing) && (
          <Fact label={t('library.factRuns')}>
            {t('library.runs', { count: thing.runs })}
            {thing.seconds !== null && (
              <span className="block font-normal text-ink-2">{t('library.tookSeconds', { seconds: took })}</span>
            )}
          </Fact>
        )}
        {!mayChange && folder && <Fact label={t('library.folder')}>{nameOf(folder)}</Fact>}
        {users.length > 0 && (
          <Fact label={t('library.factUsed')}>
            {users.map((user, i) => (
              <span key={user.id}>
                {i > 0 && ', '}
                <Link to={addressOf(user)} className="hover:text-pine">
                  {user.name}
                </Link>
              </span>
            ))}
          </Fact>
        )}
      </div>
      {mayChange && isRun(thing) && (
        <Section title={t('publish.title')}>
          <PublishBox thing={thing} />
          {thing.kind === 'report' && thing.published !== null && thing.published < thing.revision && (
            <Link
              to={`/reports/${thing.id}/revisions?older=${thing.published}`}
              className="mt-1 inline-block text-pine"
            >
              {t('publish.compare')}
            </Link>
          )}
        </Section>
      )}
      {mayChange && !work.isHosts && (
        <Section title={t('library.whoMay')}>
          <AccessList target={{ thing: thing.id }} mayManage={isAtLeast(thing.may, 'manage')} />
        </Section>
      )}
    </Column>
  );
};

interface FolderDetailsProps {
  folder: Folder;
  work: LibraryWork;
  canDesign: boolean;
  onClose: () => void;
}

/** Of a folder: where it is, how what is in it comes before readers, and who may. */
export const FolderDetails = ({ folder, work, canDesign, onClose }: FolderDetailsProps) => {
  const { t } = useTranslation();
  const nameOf = useFolderName();
  const name = nameOf(folder);
  const mayChange = canDesign && isAtLeast(folder.may, 'change');
  const mayManage = canDesign && isAtLeast(folder.may, 'manage');
  const isFixed = folder.id === ROOT || folder.isPersonal;
  const around = work.folders.find(({ id }) => id === folder.parent);
  const modes = PUBLISHINGS.map((value) => ({ value: value as string, label: t(`publish.mode_${value}`) }));
  const inherited = {
    value: 'inherit',
    label: t('publish.asAround', { mode: t(`publish.mode_${around?.publishing ?? folder.publishing}`) }),
  };
  return (
    <Column title={name} onClose={onClose}>
      {mayChange ? (
        <div className="mt-2 flex flex-col gap-1.5">
          {!isFixed && (
            <>
              <CommitBox
                label={t('library.folderName')}
                value={folder.name}
                most={200}
                onCommit={(text) => {
                  const next = text.trim();
                  if (next !== '') void work.renameFolder(folder, next, t('library.renamedTo', { name, next }));
                }}
              />
              <FolderPick
                label={t('library.folderAround')}
                value={folder.parent}
                without={(other) => isWithin(work.folders, other.id, folder.id)}
                onPick={(to) => {
                  const target = work.folders.find(({ id }) => id === to);
                  if (target && to !== folder.parent)
                    void work.moveFolder(folder, to, t('library.movedTo', { name, folder: nameOf(target) }));
                }}
              />
            </>
          )}
          <CommitBox
            multiline
            label={t('library.note')}
            placeholder={t('library.note')}
            value={folder.note}
            most={500}
            onCommit={(note) => void work.describeFolder(folder, { note: note.trim() })}
          />
        </div>
      ) : (
        folder.note !== '' && <p className="mt-2 text-ink-2">{folder.note}</p>
      )}
      {mayChange && (
        <Section title={t('publish.title')}>
          {mayManage ? (
            <Select
              label={t('publish.title')}
              value={folder.ownPublishing ?? 'inherit'}
              choices={isFixed ? modes : [inherited, ...modes]}
              onPick={(mode) =>
                void work.describeFolder(folder, {
                  publishing: PUBLISHINGS.find((one) => one === mode) ?? null,
                })
              }
            />
          ) : (
            <p className="text-ink-2">{t(`publish.mode_${folder.publishing}`)}</p>
          )}
        </Section>
      )}
      {canDesign && (
        <Section title={t('zip.title')}>
          <FolderZip folder={folder} name={name} />
        </Section>
      )}
      {mayChange && !work.isHosts && (
        <Section title={t('library.whoMay')}>
          <AccessList target={{ folder: folder.id }} mayManage={mayManage} />
        </Section>
      )}
    </Column>
  );
};
