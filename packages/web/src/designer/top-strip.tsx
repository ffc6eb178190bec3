import type { History, Report } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { ChevronDown, ChevronLeft, Download, Play, Redo2, Save, Undo2, Users } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useParams } from 'react-router';
import { libraryQueries } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { CommitBox } from '../ui/commit.tsx';
import { Button, IconButton, inputLook } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { PublishBox } from '../ui/publish-box.tsx';
import { type SavedAs, SaveForm } from '../ui/save-form.tsx';
import type { ScreenActions } from './commands/commands.ts';
import { useDesigner } from './design/state.ts';
import { ProblemsChip } from './problems-chip.tsx';
import { LONGEST_NAME, useNameHint } from './use-name-hint.ts';

interface StripProps {
  report: Report;
  history: History;
  /** Whether it is saved, in words. */
  status: string;
  canSave: boolean;
  liveOn: boolean;
  /** Who else has it open. */
  others: readonly { user: string }[];
  /** Whether it is asked for a name, which its first saving does. */
  naming: boolean;
  onNamed: (as: SavedAs | null) => void;
  onSaveNoted: (note: string) => void;
  isStored: boolean;
  back: string;
  onBack: () => void;
  screen: ScreenActions;
}

export const TopStrip = (props: StripProps) => {
  const { report, history, status, canSave, liveOn, back, onBack, screen, others, naming, onNamed } = props;
  const { t } = useTranslation();
  const [renaming, setRenaming] = useState(false);
  const hint = useNameHint();
  const lastDone = history.done.at(-1)?.name;
  const lastUndone = history.undone.at(-1)?.name;
  return (
    <header className="flex min-w-0 items-center gap-2 border-b border-rule px-3.5">
      <button type="button" className="flex flex-none items-center text-ink-2 hover:text-pine" onClick={onBack}>
        <ChevronLeft size={15} aria-hidden /> {back}
      </button>
      {renaming ? (
        // biome-ignore lint/a11y/noStaticElementInteractions: it only notices that the box in it is left
        <span className="w-56" onBlur={() => setRenaming(false)} ref={(box) => box?.querySelector('input')?.focus()}>
          <CommitBox
            label={t('designer.reportName')}
            value={report.name}
            most={LONGEST_NAME}
            hint={hint}
            onCommit={(name) =>
              name.trim() &&
              useDesigner.getState().edit(t('edits.rename'), { do: 'report', settings: { name: name.trim() } })
            }
          />
        </span>
      ) : (
        <h1 className="min-w-0 truncate text-[14px] font-semibold">
          <button
            type="button"
            title={t('designer.rename')}
            className="max-w-full truncate rounded px-0.5 hover:bg-desk/60"
            onClick={() => setRenaming(true)}
          >
            {report.name}
          </button>
        </h1>
      )}
      <span className="truncate text-ink-3" role="status" data-testid="save-state">
        {status}
      </span>
      <span className="flex-1" />
      {others.length > 0 && (
        <span
          role="status"
          data-testid="others"
          className="flex max-w-48 items-center gap-1 truncate rounded-full bg-brass-soft px-2 py-0.5 text-[12px]"
          title={t('designer.othersHelp')}
        >
          <Users size={13} aria-hidden className="flex-none" />
          <span className="truncate">
            {t('designer.others', { names: [...new Set(others.map((o) => o.user))].join(', ') })}
          </span>
        </span>
      )}
      <IconButton
        label={lastDone ? t('designer.undoNamed', { name: lastDone }) : t('designer.undo')}
        disabled={!lastDone}
        onClick={() => useDesigner.getState().undo()}
      >
        <Undo2 size={16} />
      </IconButton>
      <IconButton
        label={lastUndone ? t('designer.redoNamed', { name: lastUndone }) : t('designer.redo')}
        disabled={!lastUndone}
        onClick={() => useDesigner.getState().redo()}
      >
        <Redo2 size={16} />
      </IconButton>
      <ProblemsChip />
      <Button
        look="chip"
        aria-pressed={liveOn}
        className={liveOn ? 'border-pine/30 bg-pine-soft text-pine' : ''}
        onClick={screen.toggleLive}
      >
        <span aria-hidden className={`size-2 rounded-full ${liveOn ? 'bg-pine' : 'bg-ink-3'}`} /> {t('designer.live')}
      </Button>
      <Button onClick={screen.run}>
        <Play size={14} aria-hidden /> {t('designer.run')}
      </Button>
      {screen.exportAs && (
        <IconButton label={t('designer.exportAs')} onClick={screen.exportAs}>
          <Download size={16} />
        </IconButton>
      )}
      <Popover.Root open={naming} onOpenChange={(open) => !open && onNamed(null)}>
        <Popover.Anchor asChild>
          <Button look="primary" disabled={!canSave} onClick={screen.save}>
            <Save size={14} aria-hidden /> {t('designer.save')}
          </Button>
        </Popover.Anchor>
        <Panel label={t('designer.askName')} align="end" className="w-80 p-3">
          <SaveForm
            name={report.name === t('library.newName') ? '' : report.name}
            most={LONGEST_NAME}
            example={t('designer.nameExample')}
            hint={hint}
            onSave={onNamed}
            onCancel={() => onNamed(null)}
          />
        </Panel>
      </Popover.Root>
      {props.isStored && (
        <Popover.Root>
          <Popover.Trigger asChild>
            <IconButton label={t('designer.saveMore')}>
              <ChevronDown size={15} />
            </IconButton>
          </Popover.Trigger>
          <Panel label={t('designer.saveMore')} align="end" className="w-72 p-2">
            <SaveMore canSave={canSave} onSaveNoted={props.onSaveNoted} screen={screen} />
          </Panel>
        </Popover.Root>
      )}
    </header>
  );
};

interface SaveMoreProps {
  canSave: boolean;
  onSaveNoted: (note: string) => void;
  screen: ScreenActions;
}

/** Other ways of saving, and what was saved before. */
const SaveMore = ({ canSave, onSaveNoted, screen }: SaveMoreProps) => {
  const { t } = useTranslation();
  const [note, setNote] = useState('');
  const { id } = useParams();
  const { data: thing } = useQuery({ ...libraryQueries.thing(id ?? ''), enabled: id !== undefined });
  const entry = (words: string, act: () => void) => (
    <Popover.Close asChild>
      <button type="button" className="block w-full rounded px-2 py-1 text-start hover:bg-pine-soft" onClick={act}>
        {words}
      </button>
    </Popover.Close>
  );
  return (
    <>
      <div className="mb-1 flex gap-1.5 border-b border-rule-soft px-1 pb-2">
        <input
          className={inputLook}
          aria-label={t('designer.note')}
          placeholder={t('designer.note')}
          maxLength={500}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        <Popover.Close asChild>
          <Button disabled={!canSave || note.trim() === ''} onClick={() => onSaveNoted(note.trim())}>
            {t('designer.save')}
          </Button>
        </Popover.Close>
      </div>
      {thing && thing.publishing !== 'each-save' && (
        <section className="mb-1 border-b border-rule-soft px-1 pb-2">
          <h3 className="mb-1 font-semibold">{t('publish.title')}</h3>
          <PublishBox thing={thing} />
        </section>
      )}
      {screen.openRevisions && entry(t('command.revisions'), screen.openRevisions)}
      {entry(t('command.saveCopy'), screen.saveCopy)}
      {entry(t('command.saveFile'), screen.saveFile)}
    </>
  );
};
