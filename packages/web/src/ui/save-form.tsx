import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { libraryQueries } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, inputLook } from './controls.tsx';
import { FolderPick } from './folder-pick.tsx';
import { isAtLeast, ROOT } from './folder-tree.ts';
import { browserMemory, keep, recall } from './memory.ts';

const KEY = 'gaveta.library.folder';

/** Remembers the folder that somebody looked into last: what they save next is likely to belong there. */
export const rememberFolder = (id: string): void => keep(browserMemory(), KEY, id);

/** The folder that something new is likely to belong into; null: none that is known. */
export const useLikelyFolder = (): string | null => {
  const { data } = useQuery(libraryQueries.folders());
  const folders = (data?.folders ?? []).filter((folder) => isAtLeast(folder.may, 'change'));
  const last = recall(browserMemory(), KEY);
  const likely =
    folders.find(({ id }) => id === last) ??
    folders.find(({ id }) => id === ROOT) ??
    folders.find(({ isPersonal, isForeign }) => isPersonal && !isForeign);
  return likely?.id ?? null;
};

/** Where something new is kept. */
export interface SavedAs {
  name: string;
  folder?: string;
  note: string;
}

interface SaveFormProps {
  name: string;
  note?: string;
  /** Most characters of the name. */
  most: number;
  example: string;
  /** What there is to say about a name that is typed. */
  hint?: (typed: string) => string | null;
  onSave: (as: SavedAs) => void;
  onCancel: () => void;
}

/** Asks once, when something is saved for the first time: its name, its folder, and a note. */
export const SaveForm = ({ name, note = '', most, example, hint, onSave, onCancel }: SaveFormProps) => {
  const { t } = useTranslation();
  const [draft, setDraft] = useState({ name, note });
  const [picked, setPicked] = useState<string | null>(null);
  const likely = useLikelyFolder();
  const folder = picked ?? likely;
  const said = draft.name.length >= most ? t('app.mostCharacters', { most }) : hint ? hint(draft.name) : null;
  const called = draft.name.trim();
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (called !== '') onSave({ name: called, note: draft.note.trim(), ...(folder === null ? {} : { folder }) });
      }}
    >
      <label className="block">
        <span className="mb-1 block font-semibold">{t('designer.askName')}</span>
        <input
          // biome-ignore lint/a11y/noAutofocus: saving asked for it just now
          autoFocus
          className={inputLook}
          value={draft.name}
          maxLength={most}
          placeholder={example}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
        {said !== null && (
          <span role="status" className="mt-1 block text-rust-strong">
            {said}
          </span>
        )}
      </label>
      {folder !== null && (
        <div>
          <span className="mb-1 block text-ink-2">{t('library.folder')}</span>
          <FolderPick label={t('library.folder')} value={folder} onPick={setPicked} />
        </div>
      )}
      <label className="block">
        <span className="mb-1 block text-ink-2">{t('library.note')}</span>
        <textarea
          rows={2}
          maxLength={500}
          className="w-full rounded border border-rule bg-paper px-2 py-1"
          placeholder={t('library.noteExample')}
          value={draft.note}
          onChange={(event) => setDraft({ ...draft, note: event.target.value })}
        />
      </label>
      <span className="flex gap-2">
        <Button look="primary" type="submit" disabled={called === ''}>
          {t('designer.save')}
        </Button>
        <Button onClick={onCancel}>{t('data.cancel')}</Button>
      </span>
    </form>
  );
};
