import {
  joinSet,
  type Read,
  type Report,
  readDefinitionText,
  type SetPlace,
  TEMPLATES,
  type Template,
} from '@gaveta/core/internal';
import { useMutation, useQuery } from '@tanstack/react-query';
import { ChevronLeft, Copy, FileUp, LayoutTemplate, type LucideIcon, Route, Square } from 'lucide-react';
import { type ReactNode, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { libraryQueries } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { useThemes } from '../api/use-themes.ts';
import { blank } from '../designer/design/blank-report.ts';
import { LivePage } from '../designer/live/live-page.tsx';
import type { NamesIn } from '../i18n/keys.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { useLive } from '../live/use-live.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import { FirstPage } from '../ui/first-page.tsx';
import { StickyEnd } from '../ui/sticky-end.tsx';
import {
  emptyDraft,
  type GuidedDraft,
  guidedFrom,
  modelOf,
  newKey,
  type RowsChoice,
  rowsChoices,
  templateFrom,
} from './choices.ts';
import { GuidedSteps, RowsStep } from './guided-steps.tsx';

type Way = 'choose' | 'guided' | 'template' | 'copy';

/** What was answered for the sets of rows before the one that is asked about. */
interface Before {
  report: Report;
  rows: RowsChoice;
  draft: GuidedDraft;
  /** Where the next set goes. */
  place: SetPlace;
}

/** Ways to begin a report, with the report itself growing beside them. */
export const StartScreen = () => {
  const { t, i18n } = useTranslation();
  const navigate = useNavigate();
  const said = useFailureText();
  const [way, setWay] = useState<Way>('choose');
  const [rows, setRows] = useState<RowsChoice | null>(null);
  const [draft, setDraft] = useState<GuidedDraft>(emptyDraft);
  const [before, setBefore] = useState<readonly Before[]>([]);
  const [template, setTemplate] = useState<Template>('list');
  const [trouble, setTrouble] = useState<readonly string[]>([]);
  const models = useQuery(queries.models());
  const recipes = useQuery(queries.recipes());
  const words = { page: t('start.page'), of: t('start.of'), total: t('start.total') };
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  const language = i18n.language;
  const themes = useThemes();
  const frame = blank(t('library.newName'), words, language, timeZone, themes);
  const last = before.at(-1);
  // Rows of another model come by a recipe.
  const choices = rowsChoices(models.data ?? [], recipes.data ?? [], t('start.recipe')).filter(
    ({ source }) =>
      !last || 'queries' in source || last.report.model === undefined || source.model === last.report.model,
  );
  const found = rows && modelOf(rows, models.data ?? [], recipes.data ?? [], frame);
  const settings = rows && { rows, themes, words, language, timeZone };
  const own: Report | null =
    !found || !settings
      ? null
      : way === 'template'
        ? templateFrom(template, draft, found, settings)
        : guidedFrom(draft, found.entity, settings);
  const report = last ? (own ? joinSet(last.report, own, last.place) : last.report) : own;
  // The same report by what it says, so that it is laid out once for each change.
  const [shown, setShown] = useState<Report | null>(null);
  if (JSON.stringify(report) !== JSON.stringify(shown)) setShown(report);
  const live = useLive(shown, true);

  const tell = (error: unknown): void => {
    const { detail, problems } = said(error);
    setTrouble([detail, ...problems.map(problemWords)]);
  };
  const begin = useMutation({
    mutationFn: async (definition: Report) => {
      const key = newKey();
      await api.putDraft(key, { definition, report: null, base: 0 });
      return key;
    },
    onSuccess: (key) => navigate(`/new/${key}`),
    onError: (error) => tell(error),
  });
  const copy = useMutation({
    mutationFn: (id: string) => api.report(id),
    onSuccess: ({ definition }) =>
      begin.mutate({ ...definition, name: t('designer.copyName', { name: definition.name }) }),
    onError: (error) => tell(error),
  });
  /** As a template of the library is now; it stays as it is. */
  const fromTemplate = useMutation({
    mutationFn: (id: string) => api.report(id, 'published'),
    onSuccess: ({ definition }) => begin.mutate({ ...definition, name: t('library.newName') }),
    onError: (error) => tell(error),
  });
  const openFile = async (file: File): Promise<void> => {
    const read: Read = readDefinitionText(await file.text());
    if (read.ok) begin.mutate(read.report);
    else
      setTrouble([
        t('start.noDefinition', { name: file.name }),
        ...read.problems.map((p) => `${p.place.path ?? ''}: ${problemWords(p)}`),
      ]);
  };
  const another = (place: SetPlace): void => {
    if (!report || !rows) return;
    setBefore([...before, { report, rows, draft, place }]);
    setRows(null);
    setDraft({ ...emptyDraft(), page: draft.page, theme: draft.theme });
  };
  const without = (): void => {
    if (!last) return;
    setBefore(before.slice(0, -1));
    setRows(last.rows);
    setDraft(last.draft);
  };
  const pick = (next: RowsChoice): void => {
    setRows(next);
    setDraft({ ...emptyDraft(), page: draft.page, theme: draft.theme });
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files are dropped here; the button takes them by keyboard
    <div
      className="grid h-full grid-rows-[44px_1fr]"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) void openFile(file);
      }}
    >
      <header className="flex items-center gap-2 border-b border-rule px-3.5">
        {way === 'choose' ? (
          <Link to="/" className="flex items-center text-ink-2 hover:text-pine">
            <ChevronLeft size={15} aria-hidden /> {t('app.reports')}
          </Link>
        ) : (
          <button
            type="button"
            className="flex items-center text-ink-2 hover:text-pine"
            onClick={() => {
              setWay('choose');
              setRows(null);
              setBefore([]);
            }}
          >
            <ChevronLeft size={15} aria-hidden /> {t('start.otherWay')}
          </button>
        )}
        <h1 className="text-[14px] font-semibold">{t(`start.way_${way}`)}</h1>
      </header>
      <main data-testid="start" className="grid min-h-0 grid-cols-[minmax(360px,460px)_minmax(0,1fr)]">
        <div className="flex min-h-0 flex-col overflow-auto border-e border-rule p-4">
          {trouble.length > 0 && (
            <div role="alert" className="mb-3 rounded bg-rust-soft px-3 py-2 text-rust-strong">
              {trouble.slice(0, 6).map((line) => (
                <p key={line}>{line}</p>
              ))}
            </div>
          )}
          {way === 'choose' && (
            <Ways onWay={setWay} onBlank={() => begin.mutate(frame)} onFile={(file) => void openFile(file)} />
          )}
          {way === 'guided' && (
            <GuidedSteps
              choices={choices}
              rows={rows}
              onRows={pick}
              found={found}
              draft={draft}
              onDraft={setDraft}
              onDone={() => report && begin.mutate(report)}
              isBusy={begin.isPending}
              isFurther={last !== undefined}
              onAnother={another}
              onWithout={without}
            />
          )}
          {way === 'template' && (
            <>
              <HouseTemplates onPick={(id) => fromTemplate.mutate(id)} />
              <div className="mb-3 grid grid-cols-2 gap-2">
                {TEMPLATES.map((one) => (
                  <button
                    key={one}
                    type="button"
                    aria-pressed={one === template}
                    className={`rounded-md border bg-paper p-2 text-start ${one === template ? 'border-2 border-pine' : 'border-rule'}`}
                    onClick={() => setTemplate(one)}
                  >
                    <b className="block font-semibold">{t(`start.template_${one}`)}</b>
                    <span className="text-[12px] text-ink-3">{t(`start.templateHelp_${one}`)}</span>
                  </button>
                ))}
              </div>
              <RowsStep choices={choices} rows={rows} onRows={pick} />
              <StickyEnd>
                <Button
                  look="primary"
                  disabled={!report || begin.isPending}
                  onClick={() => report && begin.mutate(report)}
                >
                  {t('start.make')}
                </Button>
              </StickyEnd>
            </>
          )}
          {way === 'copy' && <CopyOf onPick={(id) => copy.mutate(id)} />}
        </div>
        {shown ? (
          <LivePage live={live} />
        ) : (
          <aside className="grid place-items-center bg-desk/60 p-8 text-center text-ink-2">
            {t('start.emptyPage')}
          </aside>
        )}
      </main>
    </div>
  );
};

interface WaysProps {
  onWay: (way: Way) => void;
  onBlank: () => void;
  onFile: (file: File) => void;
}

const Ways = ({ onWay, onBlank, onFile }: WaysProps) => {
  const { t } = useTranslation();
  const file = useRef<HTMLInputElement>(null);
  const way = (name: NamesIn<'start', 'wayHelp_'>, Icon: LucideIcon, act: () => void): ReactNode => (
    <button
      key={name}
      type="button"
      className="flex w-full items-start gap-3 rounded-md border border-rule bg-paper px-3 py-2.5 text-start hover:border-pine"
      onClick={act}
    >
      <Icon size={20} aria-hidden className="mt-0.5 flex-none text-brass" />
      <span>
        <b className="block font-semibold">{t(`start.way_${name}`)}</b>
        <span className="text-ink-3">{t(`start.wayHelp_${name}`)}</span>
      </span>
    </button>
  );
  return (
    <div className="flex flex-col gap-2">
      {way('guided', Route, () => onWay('guided'))}
      {way('blank', Square, onBlank)}
      {way('template', LayoutTemplate, () => onWay('template'))}
      {way('copy', Copy, () => onWay('copy'))}
      {way('file', FileUp, () => file.current?.click())}
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        hidden
        aria-label={t('start.way_file')}
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          event.target.value = '';
          if (chosen) onFile(chosen);
        }}
      />
    </div>
  );
};

/** The templates of the library, each with its first page. */
const HouseTemplates = ({ onPick }: { onPick: (id: string) => void }) => {
  const { t } = useTranslation();
  const { data } = useQuery(libraryQueries.ofKind('template'));
  const templates = data?.things ?? [];
  if (templates.length === 0) return null;
  return (
    <>
      <h2 className="mb-1.5 font-semibold">{t('start.houseTemplates')}</h2>
      <ul className="mb-4 grid grid-cols-3 gap-2">
        {templates.map((thing) => (
          <li key={thing.id}>
            <button
              type="button"
              title={thing.note}
              className="w-full rounded-md border border-rule bg-paper p-1.5 text-start hover:border-pine"
              onClick={() => onPick(thing.id)}
            >
              <span className="relative block h-28 overflow-hidden border border-rule-soft bg-sheet">
                <FirstPage thing={thing} />
              </span>
              <span className="mt-1 block truncate font-semibold">{thing.name}</span>
              <span className="block truncate text-[12px] text-ink-3">{thing.note}</span>
            </button>
          </li>
        ))}
      </ul>
      <h2 className="mb-1.5 font-semibold">{t('start.otherTemplates')}</h2>
    </>
  );
};

const CopyOf = ({ onPick }: { onPick: (id: string) => void }) => {
  const { t } = useTranslation();
  const [find, setFind] = useState('');
  const reports = useQuery(queries.reports());
  const shown = (reports.data ?? []).filter(
    ({ kind, name }) => kind === 'report' && name.toLowerCase().includes(find.toLowerCase()),
  );
  return (
    <>
      <input
        type="search"
        className={`${inputLook} mb-2`}
        placeholder={t('library.find')}
        aria-label={t('library.find')}
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <ul>
        {shown.map((report) => (
          <li key={report.id}>
            <button
              type="button"
              className="w-full rounded px-2 py-1 text-start hover:bg-pine-soft"
              onClick={() => onPick(report.id)}
            >
              {report.name}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
};
