import { Save } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { SaveForm } from '../ui/save-form.tsx';
import type { SketchWork } from './use-sketch.ts';

/** Saves: a new sketch under a name, with a note; one that is stored at once. */
export const SaveButton = ({ work }: { work: SketchWork }) => {
  const { t } = useTranslation();
  const { sketch, base, isChanged, isSaving, save, change } = work;
  const [open, setOpen] = useState(false);
  const isNew = base === 0;
  const button = (
    <Button
      look="primary"
      data-save
      disabled={isSaving || (!isNew && !isChanged)}
      onClick={isNew ? () => setOpen(true) : () => save()}
    >
      <Save size={14} aria-hidden /> {t('designer.save')}
    </Button>
  );
  if (!isNew) return button;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Anchor asChild>{button}</Popover.Anchor>
      <Panel label={t('sketch.saveAs')} align="end" className="w-80 p-3">
        <SaveForm
          name={sketch.name}
          note={sketch.note ?? ''}
          most={200}
          example={t('designer.nameExample')}
          onSave={(as) => {
            setOpen(false);
            change({ ...sketch, name: as.name, ...(as.note === '' ? {} : { note: as.note }) });
            // What was typed is part of what is saved, from the next moment on.
            setTimeout(() => save(as));
          }}
          onCancel={() => setOpen(false)}
        />
      </Panel>
    </Popover.Root>
  );
};
