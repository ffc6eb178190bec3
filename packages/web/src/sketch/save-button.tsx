import { Save } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import type { SketchWork } from './use-sketch.ts';

/** Saves: a new sketch under a name, with a note; one that is stored at once. */
export const SaveButton = ({ work }: { work: SketchWork }) => {
  const { t } = useTranslation();
  const { sketch, base, isChanged, isSaving, save, change } = work;
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [note, setNote] = useState('');
  const isNew = base === 0;
  const button = (
    <Button
      look="primary"
      data-save
      disabled={isSaving || (!isNew && !isChanged)}
      onClick={
        isNew
          ? () => {
              setName(sketch.name);
              setNote(sketch.note ?? '');
              setOpen(true);
            }
          : () => save()
      }
    >
      <Save size={14} aria-hidden /> {t('designer.save')}
    </Button>
  );
  if (!isNew) return button;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Anchor asChild>{button}</Popover.Anchor>
      <Panel label={t('sketch.saveAs')} align="end" className="w-80 p-3">
        <form
          className="flex flex-col gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim() === '') return;
            setOpen(false);
            const next = { ...sketch, name: name.trim(), ...(note.trim() === '' ? {} : { note: note.trim() }) };
            change(next);
            // What was typed is part of what is saved, from the next moment on.
            setTimeout(() => save({ name: name.trim() }));
          }}
        >
          <label className="flex flex-col gap-0.5">
            <span className="text-[11.5px] text-ink-2">{t('sketch.name')}</span>
            <input
              className={inputLook}
              // biome-ignore lint/a11y/noAutofocus: the panel was opened to type the name
              autoFocus
              maxLength={200}
              value={name}
              onFocus={({ target }) => target.select()}
              onChange={({ target }) => setName(target.value)}
            />
          </label>
          <label className="flex flex-col gap-0.5">
            <span className="text-[11.5px] text-ink-2">{t('sketch.note')}</span>
            <textarea
              rows={2}
              maxLength={2000}
              className="rounded border border-rule bg-paper px-2 py-1"
              value={note}
              onChange={({ target }) => setNote(target.value)}
            />
          </label>
          <Button look="primary" type="submit" className="self-end" disabled={name.trim() === ''}>
            {t('designer.save')}
          </Button>
        </form>
      </Panel>
    </Popover.Root>
  );
};
