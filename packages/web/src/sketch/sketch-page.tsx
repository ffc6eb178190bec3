import {
  findTheme,
  questionOf,
  type Reached,
  type RecipeContext,
  reachedField,
  reachOf,
  type Sketch,
  type Source,
  sketchReport,
  withAcross,
  withColumn,
  withCondition,
  withGroup,
} from '@gaveta/core/internal';
import { useMutation } from '@tanstack/react-query';
import { BarChart3, ChevronLeft, FilePlus2, Redo2, Undo2, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, type ModelWithOrigin, type StoredRecipe } from '../api/client.ts';
import type { AskedSketch } from '../api/sketches.ts';
import { useThemes } from '../api/use-themes.ts';
import { useIsHidden } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { newKey } from '../start/choices.ts';
import { CommitBox } from '../ui/commit.tsx';
import { Questions } from '../ui/confirm.tsx';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { useDrag } from '../ui/drag.ts';
import { useFailureText } from '../ui/failure.tsx';
import { Panel } from '../ui/panel.tsx';
import { ChartView } from './chart-view.tsx';
import { ChooseRows } from './choose-rows.tsx';
import { ExportSketch } from './export-sketch.tsx';
import { FieldColumn } from './field-column.tsx';
import { FilterPanel } from './filter.tsx';
import type { OpenGroups } from './line-tree.ts';
import { LookMenu } from './look-menu.tsx';
import { madeUpLines } from './made-up.ts';
import { type SketchParts, SketchProvider, useParts } from './parts.ts';
import { SaveButton } from './save-button.tsx';
import { Sentence } from './sentence.tsx';
import { SketchTable } from './table.tsx';
import { useLines } from './use-lines.ts';
import type { SketchWork } from './use-sketch.ts';
import { conditionWords } from './words.ts';

interface Props {
  work: SketchWork;
  /** Id of a stored sketch; null for one that is new. */
  id: string | null;
  isReading: boolean;
  /** The fields that it names, for those who read it; null where the models say it. */
  known: readonly Reached[] | null;
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  /** Begins anew with other rows. */
  onRows: (from: Source) => void;
  /** Discards the draft and opens what is stored. */
  onStored: () => void;
}

/** How a reader's way differs from what is stored. */
const askedBy = (id: string, sketch: Sketch, stored: Sketch): AskedSketch => ({
  stored: id,
  order: sketch.order,
  only: sketch.only.slice(stored.only.length),
});

/** A sketch: the question in words, its fields, its chart and its lines, each a hand on the same thing. */
export const SketchPage = ({ work, id, isReading, known, models, recipes, onRows, onStored }: Props) => {
  const { t, i18n } = useTranslation();
  const { sketch, change } = work;
  const navigate = useNavigate();
  const isHidden = useIsHidden();
  const said = useFailureText();
  const themes = useThemes();
  const [stored] = useState(sketch);
  const context = useMemo(
    (): RecipeContext => ({
      models,
      recipe: (name) => recipes.find((one) => one.id === name) ?? null,
      queries: [],
      parameters: [],
    }),
    [models, recipes],
  );
  const { from } = sketch;
  const source = JSON.stringify(from);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what the source says
  const reach = useMemo(() => known ?? reachOf(from, context), [source, context, known]);
  const asked = useMemo<AskedSketch>(
    () => (isReading && id !== null ? askedBy(id, sketch, stored) : { sketch }),
    [isReading, id, sketch, stored],
  );
  const parts = useMemo(
    (): SketchParts => ({
      ...{ sketch, change, reach, context, models, recipes, asked, isReading },
      fixed: isReading ? stored.only.length : 0,
    }),
    [sketch, change, reach, context, models, recipes, asked, isReading, stored],
  );

  // Groups are open as deep as there are any, until somebody folds them.
  const levels = sketch.rows ? sketch.groups.length : Math.max(0, sketch.groups.length - 1);
  const shape = JSON.stringify([sketch.rows, sketch.groups.map(({ name }) => name)]);
  const [folds, setFolds] = useState<{ shape: string; open: OpenGroups } | null>(null);
  const usual = useMemo((): OpenGroups => ({ levels, turned: new Set() }), [levels]);
  const open = folds?.shape === shape ? folds.open : usual;

  const question = useMemo(() => JSON.stringify([source, questionOf(sketch)]), [source, sketch]);
  const [fetched, setFetched] = useState<string | null>(null);
  const isOn = !sketch.onRequest || fetched === question;
  const lines = useLines({
    ...{ of: asked, question, groups: sketch.groups.length, rows: sketch.rows, open, isOn },
    across: sketch.across?.name ?? null,
  });
  const madeUp = useMemo(() => (isOn ? null : madeUpLines(sketch, reach)), [isOn, sketch, reach]);
  const [filtering, setFiltering] = useState<string | null>(null);

  const makeReport = useMutation({
    mutationFn: async () => {
      const key = newKey();
      await api.putDraft(key, { definition: reportNow(), report: null, base: 0 });
      return key;
    },
    onSuccess: (key) => navigate(`/new/${key}`),
  });
  const reportNow = () =>
    sketchReport(sketch, context, { theme: findTheme(sketch.theme, themes.all) ?? themes.house ?? undefined });

  const latest = useRef(work);
  latest.current = work;
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      const target = event.target as HTMLElement;
      if (key === 's') {
        event.preventDefault();
        if (!isReading) document.querySelector<HTMLElement>('[data-save]')?.click();
      } else if ((key === 'z' || key === 'y') && !target.closest('.cm-editor, input:not([type=checkbox]), textarea')) {
        event.preventDefault();
        if (key === 'y' || event.shiftKey) latest.current.redo();
        else latest.current.undo();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [isReading]);

  const drop = (path: string, zone: string): void => {
    const found = reachedField(reach, path);
    if (!found) return;
    if (zone === 'groups') change(withGroup(sketch, path, reach, t('sketch.rowCount')));
    else if (zone === 'across') change(withAcross(sketch, path, reach, t('sketch.rowCount')));
    else if (zone === 'only') setFiltering(path);
    else if (zone.startsWith('column ')) {
      const at = sketch.columns.findIndex(({ name }) => `column ${name}` === zone);
      change(withColumn(sketch, path, reach, at < 0 ? undefined : at));
    } else change(withColumn(sketch, path, reach));
  };
  const failed = work.saveError ?? makeReport.error;
  const hasLines = sketch.rows || sketch.groups.length > 0;
  const isEmpty = hasLines && lines.end !== null && lines.tree.hasLines && lines.tree.height === 0 && !lines.isFetching;

  return (
    <SketchProvider value={parts}>
      <div className="flex h-full min-h-0 flex-col">
        <header className="flex h-11 flex-none items-center gap-2 border-b border-rule px-3.5">
          <Link to="/" className="flex items-center text-ink-2 hover:text-pine">
            <ChevronLeft size={15} aria-hidden className="rtl:-scale-x-100" />{' '}
            <span className="max-md:sr-only">{t('app.reports')}</span>
          </Link>
          {isReading ? (
            <h1 className="truncate text-[14px] font-semibold">{sketch.name}</h1>
          ) : (
            <>
              <h1 className="sr-only">{sketch.name}</h1>
              <CommitBox
                label={t('sketch.name')}
                value={sketch.name}
                most={200}
                className="w-64! font-semibold"
                onCommit={(name) => name.trim() !== '' && change({ ...sketch, name: name.trim() })}
              />
            </>
          )}
          {!isReading && (
            <span role="status" data-testid="sketch-state" className="truncate text-ink-3 max-md:hidden">
              <StateWords work={work} language={i18n.language} />
            </span>
          )}
          <span className="flex-1" />
          {!isReading && (
            <>
              <IconButton label={t('designer.undo')} disabled={!work.canUndo} onClick={work.undo}>
                <Undo2 size={16} />
              </IconButton>
              <IconButton label={t('designer.redo')} disabled={!work.canRedo} onClick={work.redo}>
                <Redo2 size={16} />
              </IconButton>
              <LookMenu />
              <Button
                aria-pressed={sketch.chart !== undefined}
                className={sketch.chart ? 'border-pine! bg-pine-soft!' : ''}
                onClick={() => {
                  const { chart, ...rest } = sketch;
                  change(chart ? { ...rest, only: rest.only.filter((one) => !one.fromChart) } : { ...rest, chart: {} });
                }}
              >
                <BarChart3 size={14} aria-hidden /> {t('sketch.chart')}
              </Button>
              <Button
                disabled={makeReport.isPending || sketch.columns.length === 0}
                onClick={() => makeReport.mutate()}
              >
                <FilePlus2 size={14} aria-hidden /> <span className="max-lg:sr-only">{t('sketch.makeReport')}</span>
              </Button>
            </>
          )}
          {!isHidden('export') && (
            <ExportSketch
              state={question}
              what={() => (isReading && id !== null ? { report: id } : { definition: reportNow() })}
            />
          )}
          {!isReading && <SaveButton work={work} />}
        </header>
        {(failed || work.conflict || work.isNotKept) && (
          <p
            role="alert"
            className="flex items-center gap-2 border-b border-rust bg-rust-soft px-3.5 py-2 text-rust-strong"
          >
            {work.conflict
              ? t('sketch.conflict', { who: work.conflict.changedBy, revision: work.conflict.revision })
              : failed
                ? said(failed).detail
                : t('sketch.notKept')}
            {work.conflict && (
              <>
                <button
                  type="button"
                  className="underline"
                  onClick={() => work.save({ over: work.conflict!.revision })}
                >
                  {t('data.saveOver')}
                </button>
                <button type="button" className="underline" onClick={onStored}>
                  {t('sketch.openStored')}
                </button>
              </>
            )}
          </p>
        )}
        {sketch.note && <p className="flex-none px-4 pt-2 text-ink-2">{sketch.note}</p>}
        <Sentence
          onRows={() =>
            isReading ? null : (
              <div className="flex max-h-96 flex-col">
                <ChooseRows models={models} recipes={recipes} onPick={onRows} />
              </div>
            )
          }
        />
        <div className="flex min-h-0 flex-1 border-t border-rule">
          {!isReading && <FieldColumn onDrop={drop} />}
          <main className="relative flex min-h-0 min-w-0 flex-1 flex-col gap-2.5 p-3">
            <DropPlaces />
            {sketch.chart && <ChartView isOn={isOn} />}
            <Chips />
            {!isOn && (
              <p role="status" className="flex items-center gap-2 rounded bg-brass-soft px-3 py-1.5">
                <span className="min-w-0 flex-1">{t('sketch.madeUp')}</span>
                <Button look="primary" onClick={() => setFetched(question)}>
                  {t('sketch.fetch')}
                </Button>
              </p>
            )}
            <Trouble lines={lines} />
            {sketch.columns.length === 0 && sketch.groups.length === 0 ? (
              <Notice title={t('sketch.emptyTitle')}>{t('sketch.empty')}</Notice>
            ) : (
              <SketchTable
                lines={lines}
                open={open}
                onOpen={(next) => setFolds({ shape, open: next })}
                madeUp={madeUp}
              />
            )}
            <p role="status" data-testid="lines-state" className="flex-none text-[11.5px] text-ink-3">
              {isEmpty ? (
                t('sketch.noLines')
              ) : (
                <LinesWords lines={lines} isOn={isOn} count={hasLines ? lines.tree.height : 1} />
              )}
            </p>
          </main>
        </div>
        <Popover.Root open={filtering !== null} onOpenChange={() => setFiltering(null)}>
          <Popover.Anchor className="fixed start-1/2 top-24" />
          <Panel label={t('sketch.addCondition')} align="start" className="w-72 overflow-auto p-3">
            {filtering !== null && <FilterPanel about={{ field: filtering }} />}
          </Panel>
        </Popover.Root>
        <Ghost />
        <Questions />
      </div>
    </SketchProvider>
  );
};

/** What else a field can be dropped for, beside the captions; there while one is on its way. */
const DropPlaces = () => {
  const { t } = useTranslation();
  const { dragged, over } = useDrag();
  const { sketch, reach } = useParts();
  const found = dragged && reachedField(reach, dragged.what);
  // Of many rows behind each row nothing but what they add up to can be said.
  if (!found || found.at.isMany) return null;
  const places = [...(sketch.across ? [] : (['across'] as const)), 'only'] as const;
  return (
    <div className="pointer-events-none absolute inset-x-0 bottom-14 z-30 flex justify-center gap-3">
      {places.map((place) => (
        <span
          key={place}
          data-drop={place}
          className={`pointer-events-auto rounded-full border border-dashed px-5 py-2 shadow-lg ${over === place ? 'border-pine bg-pine-soft' : 'border-ink-3 bg-paper'}`}
        >
          {t(`sketch.place_${place}`)}
        </span>
      ))}
    </div>
  );
};

/** What is on its way with the pointer. */
const Ghost = () => {
  const { t } = useTranslation();
  const { dragged, x, y, over } = useDrag();
  if (!dragged) return null;
  const zone = over?.startsWith('column ') ? 'column' : over;
  const does =
    zone === 'groups' || zone === 'across' || zone === 'only' || zone === 'column' || zone === 'columns'
      ? t(`sketch.drop_${zone}`)
      : null;
  return (
    <div
      aria-hidden
      className="pointer-events-none fixed z-90 rounded border border-pine bg-paper px-2 py-0.5 shadow-lg"
      style={{ left: x + 12, top: y + 10 }}
    >
      {dragged.label}
      {does && <span className="ms-2 text-[11.5px] text-pine">{does}</span>}
    </div>
  );
};

const StateWords = ({ work, language }: { work: SketchWork; language: string }): ReactNode => {
  const { t } = useTranslation();
  if (work.isSaving) return t('designer.saving');
  if (!work.isChanged) return t('data.savedRecipe', { revision: work.base });
  if (!work.keptAt) return t('designer.unsaved');
  return t('library.begunAt', { when: new Intl.DateTimeFormat(language, { timeStyle: 'short' }).format(work.keptAt) });
};

/** What is filtered, each with a cross. */
const Chips = () => {
  const { t } = useTranslation();
  const { sketch, change, reach, fixed } = useParts();
  const chips = sketch.only.map((condition, i) => ({ condition, i })).filter(({ i }) => i >= fixed);
  if (chips.length === 0) return null;
  return (
    <ul aria-label={t('sketch.filters')} className="flex flex-none flex-wrap gap-1.5">
      {chips.map(({ condition, i }) => {
        const words = conditionWords(t, condition, reach, sketch);
        return (
          <li key={i} data-chip={i} className="flex items-center gap-1 rounded-full bg-brass-soft py-0.5 ps-2.5 pe-1">
            <span className="max-w-[60ch] truncate">
              {condition.fromChart ? t('sketch.fromChart', { words }) : words}
            </span>
            <button
              type="button"
              aria-label={t('sketch.takeAway', { words })}
              className="grid size-5 place-items-center rounded-full hover:bg-desk"
              onClick={() => change(withCondition(sketch, i, null))}
            >
              <X size={12} aria-hidden />
            </button>
          </li>
        );
      })}
    </ul>
  );
};

const Trouble = ({ lines }: { lines: ReturnType<typeof useLines> }) => {
  const { t } = useTranslation();
  const said = useFailureText();
  const { failure, error } = lines;
  if (!failure && !error) return null;
  return (
    <p role="alert" className="flex items-center gap-2 rounded bg-rust-soft px-3 py-2 text-rust-strong">
      <span className="min-w-0 flex-1">
        {failure ? problemWords(failure.problem) : error === 'cancelled' ? t('data.lookCancelled') : said(error).detail}
      </span>
      <Button onClick={lines.again}>{t('app.retry')}</Button>
    </p>
  );
};

const LinesWords = ({ lines, isOn, count }: { lines: ReturnType<typeof useLines>; isOn: boolean; count: number }) => {
  const { t, i18n } = useTranslation();
  if (!isOn) return null;
  if (lines.isFetching && lines.milliseconds === null)
    return (
      <>
        {t('data.looking')}
        <button type="button" className="ms-2 rounded px-1 text-pine hover:bg-pine-soft" onClick={lines.cancel}>
          {t('data.cancel')}
        </button>
      </>
    );
  return (
    <>
      {t('sketch.lineCount', { count, shown: count.toLocaleString(i18n.language) })}
      {lines.milliseconds !== null && ` · ${Math.round(lines.milliseconds)} ms`}
    </>
  );
};
