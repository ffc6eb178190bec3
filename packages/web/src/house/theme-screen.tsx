import {
  type HouseTheme,
  houseTheme,
  houseThemeSchema,
  readHouseThing,
  type SampleWords,
  themeSample,
} from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Redo2, Undo2 } from 'lucide-react';
import { Popover, Tabs } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { library, libraryQueries } from '../api/library.ts';
import { LivePage } from '../designer/live/live-page.tsx';
import { useTranslation } from '../i18n/use-translation.ts';
import { useLive } from '../live/use-live.ts';
import { Questions } from '../ui/confirm.tsx';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { browserMemory, keep, recall } from '../ui/memory.ts';
import { Panel } from '../ui/panel.tsx';
import { type SavedAs, SaveForm } from '../ui/save-form.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';
import { ThemeForm } from './theme-form.tsx';
import { ThemeReports } from './theme-reports.tsx';
import { useHistory } from './use-history.ts';

/** Where work on a theme is kept that is not saved. */
const keyOf = (id: string): string => `gaveta.theme.${id}`;
const unsaved = (id: string): HouseTheme | null => {
  try {
    const { thing } = readHouseThing(JSON.parse(recall(browserMemory(), keyOf(id)) ?? 'null'));
    return thing && 'gavetaTheme' in thing ? thing : null;
  } catch {
    return null;
  }
};

/** The same for themes that say the same, in whichever order their settings were made. */
const textOf = (theme: HouseTheme): string => JSON.stringify(houseThemeSchema.parse(theme));

/** A theme of the house: fonts, colours and page bands, seen on a sample as they change, and put on reports. */
export const ThemeScreen = () => {
  const { id = 'new' } = useParams();
  const stored = useQuery({ ...libraryQueries.definition(id), enabled: id !== 'new' });
  const { t } = useTranslation();
  if (stored.error) return <Failure error={stored.error} retry={() => void stored.refetch()} />;
  if (id === 'new') return <Editor key="new" id={null} revision={0} stored={null} />;
  if (!stored.data) return <Notice>{t('app.loading')}</Notice>;
  const { definition, revision } = stored.data;
  if (!('gavetaTheme' in definition)) return <Notice>{t('house.noTheme')}</Notice>;
  return <Editor key={id} id={id} revision={revision} stored={definition} />;
};

interface EditorProps {
  id: string | null;
  revision: number;
  stored: HouseTheme | null;
}

const Editor = ({ id, revision, stored }: EditorProps) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const navigate = useNavigate();
  const key = keyOf(id ?? 'new');
  const [first] = useState(
    () =>
      unsaved(id ?? 'new') ??
      stored ??
      houseThemeSchema.parse({ gavetaTheme: 1, name: t('house.newTheme'), accent: '#1f5c4d' }),
  );
  const { now: theme, set, undo, redo, canUndo, canRedo } = useHistory<HouseTheme>(first);
  const [error, setError] = useState<unknown>(null);
  const [isAsking, setIsAsking] = useState(false);
  const text = textOf(theme);
  const isSaved = stored !== null && textOf(stored) === text;
  const isTouched = canUndo || canRedo;
  useEffect(() => {
    if (isSaved) keep(browserMemory(), key, null);
    else if (isTouched) keep(browserMemory(), key, text);
  }, [key, text, isSaved, isTouched]);
  const settled = async (): Promise<void> => {
    keep(browserMemory(), key, null);
    await client.invalidateQueries({ queryKey: ['reports'] });
    await client.invalidateQueries({ queryKey: ['themes'] });
  };
  const save = useMutation({
    mutationFn: () => library.keepAnew(id!, theme, revision),
    onSuccess: settled,
    onError: setError,
  });
  const create = useMutation({
    mutationFn: ({ name, folder, note }: SavedAs) =>
      library.keep({ ...theme, name }, { note, ...(folder ? { folder } : {}) }),
    onSuccess: async (made) => {
      await settled();
      navigate(`/house/themes/${made.id}`, { replace: true });
    },
    onError: setError,
  });
  const words = useMemo<SampleWords>(() => {
    const number = (n: number): string => n.toLocaleString(undefined, { minimumFractionDigits: 2 });
    return {
      title: t('house.sampleTitle'),
      heading: t('house.sampleHeading'),
      captions: [t('house.sampleHut'), t('house.sampleNights'), t('house.sampleCharges')],
      rows: [
        ['Lago Frio', '128', number(2304)],
        ['Alminhas', '96', number(1728.5)],
        ['Pedra Alta', '211', number(3960.75)],
        ['Covão', '54', number(972)],
      ],
      total: '489',
      note: t('house.sampleNote'),
    };
  }, [t]);
  const sample = useMemo(() => themeSample(houseTheme(JSON.parse(text) as HouseTheme), words), [text, words]);
  const live = useLive(sample, true);
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.target instanceof HTMLInputElement) return;
      if (event.key === 'z') (event.shiftKey ? redo : undo)();
      else if (event.key === 'y') redo();
      else return;
      event.preventDefault();
    };
    addEventListener('keydown', press);
    return () => removeEventListener('keydown', press);
  });
  return (
    <div className="grid h-full grid-rows-[44px_1fr]">
      <ScreenHeader title={theme.name}>
        <span className="flex-1" />
        <IconButton label={t('designer.undo')} disabled={!canUndo} onClick={undo}>
          <Undo2 size={15} />
        </IconButton>
        <IconButton label={t('designer.redo')} disabled={!canRedo} onClick={redo}>
          <Redo2 size={15} />
        </IconButton>
        <span role="status" className="text-ink-3">
          {isSaved ? t('house.saved', { revision }) : t('house.unsaved')}
        </span>
        {id === null ? (
          <Popover.Root open={isAsking} onOpenChange={setIsAsking}>
            <Popover.Trigger asChild>
              <Button look="primary">{t('designer.save')}</Button>
            </Popover.Trigger>
            <Panel label={t('designer.save')} align="end" className="w-80 p-3">
              <SaveForm
                name={theme.name}
                most={80}
                example={t('house.nameExample')}
                onSave={(as) => {
                  setIsAsking(false);
                  create.mutate(as);
                }}
                onCancel={() => setIsAsking(false)}
              />
            </Panel>
          </Popover.Root>
        ) : (
          <Button look="primary" disabled={isSaved || save.isPending} onClick={() => save.mutate()}>
            {t('designer.save')}
          </Button>
        )}
      </ScreenHeader>
      <main className="grid min-h-0 grid-cols-[minmax(260px,340px)_minmax(0,1fr)] max-sm:grid-cols-1 max-sm:overflow-auto">
        <div className="min-h-0 overflow-auto border-e border-rule max-sm:overflow-visible">
          {error !== null && <Failure error={error} retry={() => setError(null)} />}
          <ThemeForm theme={theme} onChange={set} onError={setError} />
        </div>
        <Tabs.Root defaultValue="sample" className="flex min-h-0 flex-col">
          <Tabs.List className="flex h-9 flex-none gap-4 border-b border-rule px-4" aria-label={theme.name}>
            {(['sample', 'reports'] as const).map((tab) => (
              <Tabs.Trigger
                key={tab}
                value={tab}
                disabled={tab === 'reports' && id === null}
                title={tab === 'reports' && id === null ? t('house.saveFirst') : undefined}
                className="border-b-2 border-transparent text-ink-2 disabled:opacity-45 data-[state=active]:border-pine data-[state=active]:font-semibold data-[state=active]:text-ink"
              >
                {t(`house.tab_${tab}`)}
              </Tabs.Trigger>
            ))}
          </Tabs.List>
          <Tabs.Content value="sample" className="min-h-0 flex-1">
            <LivePage live={live} />
          </Tabs.Content>
          <Tabs.Content value="reports" className="min-h-0 flex-1">
            {id !== null && <ThemeReports id={id} isSaved={isSaved} />}
          </Tabs.Content>
        </Tabs.Root>
      </main>
      <Questions />
    </div>
  );
};
