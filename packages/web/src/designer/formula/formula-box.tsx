import {
  acceptCompletion,
  autocompletion,
  closeCompletion,
  completionKeymap,
  completionStatus,
  selectedCompletion,
} from '@codemirror/autocomplete';
import { insertNewline } from '@codemirror/commands';
import { type Diagnostic, linter } from '@codemirror/lint';
import { Prec } from '@codemirror/state';
import { EditorView, keymap } from '@codemirror/view';
import {
  type BandAddress,
  type Completion,
  completionsFor,
  type Edit,
  formulaFacts,
  type Problem,
  withNames,
} from '@gaveta/core/internal';
import CodeMirror from '@uiw/react-codemirror';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useEffect, useId, useMemo, useRef, useState } from 'react';
import { create } from 'zustand';
import { useTranslation } from '../../i18n/use-translation.ts';
import { problemWords } from '../../i18n/words.ts';
import { onceReleased } from '../../ui/press.ts';
import { useDesign } from '../design/context.ts';
import { useDesigner } from '../design/state.ts';
import { completionSource, formulaLanguage } from './language.ts';

/** A place of formulas that is no band, as the cells of a crosstab: no row is current there to work one out for. */
export interface FormulaPlace {
  completions: () => Completion[];
  problems: (formula: string) => Problem[];
}

interface FormulaBoxProps {
  label: string;
  value: string;
  /** Where the formula stands, which decides what is in reach. */
  address: BandAddress | FormulaPlace;
  onCommit: (formula: string) => void;
  /** The edit that shows the formula on the live page while it is typed. */
  attempt?: ((formula: string) => Edit) | undefined;
  format?: string | undefined;
  /** Whether it must be TRUE or FALSE, so that its hits are counted. */
  isCondition?: boolean | undefined;
  placeholder?: string | undefined;
  /** Marks the box of the selected item's own formula. */
  setting?: string | undefined;
  /** Whether it has the keyboard as soon as it is there. */
  autoFocus?: boolean | undefined;
}

/** The same object each time: another one would set the whole editor up anew. */
const SETUP = {
  lineNumbers: false,
  foldGutter: false,
  highlightActiveLine: false,
  autocompletion: false,
  lintKeymap: false,
  searchKeymap: false,
};

/** How long typing must pause until the formula is worked out, in milliseconds. */
const PAUSE = 180;

/**
 * The box that shows its value: the one that was used last, also after it is left. What stands below it would move under the
 * pointer otherwise.
 */
const useActiveBox = create<{ id: string | null }>(() => ({ id: null }));

/**
 * A formula with completion, colours, problems underlined where they are, and its value for a row of the report, worked
 * out while it is typed. Enter or leaving the box takes it over, Escape gives it up.
 */
export const FormulaBox = (props: FormulaBoxProps) => {
  const { label, value, address, onCommit, attempt, format, isCondition, placeholder, setting, autoFocus } = props;
  const { t } = useTranslation();
  const {
    report,
    plan,
    live: { probe },
  } = useDesign();
  const [draft, setDraft] = useState(value);
  const [values, setValues] = useState<readonly string[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const id = useId();
  const active = useActiveBox((s) => s.id === id);
  /** Keeps what is being worked out from the live page: what was typed is taken over, or given up, by now. */
  const giveUp = useRef(() => {});
  /** Whether the live page shows what is being typed here. */
  const isTried = useRef(false);
  const latest = useRef({ draft, value, onCommit, attempt, report, plan, address });
  latest.current = { draft, value, onCommit, attempt, report, plan, address };
  const offered = (): readonly Completion[] => {
    const now = latest.current;
    return isPlace(now.address) ? now.address.completions() : completionsFor(now.report, now.address, now.plan);
  };
  const problemsOf = (text: string): readonly Problem[] => {
    const now = latest.current;
    return isPlace(now.address)
      ? now.address.problems(text)
      : formulaFacts(now.report, now.address, text, now.plan).problems;
  };
  /** What was typed, with names as formulas have them where it has those that people see. */
  const meant = (text: string): string => {
    if (text.trim() === '' || problemsOf(text).length === 0) return text;
    const named = withNames(text, offered());
    return named !== text && problemsOf(named).length === 0 ? named : text;
  };
  const read = useRef({ offered, problemsOf, meant });
  read.current = { offered, problemsOf, meant };

  useEffect(() => setDraft(value), [value]);

  const bandName = JSON.stringify(address);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the band by what it says, and only while the box is in use
  useEffect(() => {
    if (!active) return;
    let isOver = false;
    let mayTry = true;
    giveUp.current = () => {
      mayTry = false;
    };
    const timer = setTimeout(async () => {
      if (draft.trim() === '') {
        setValues(null);
        setProblem(null);
        return;
      }
      if (isPlace(address)) {
        const [first] = address.problems(read.current.meant(draft));
        setProblem(first ? problemWords(first) : null);
        return;
      }
      const formula = read.current.meant(draft);
      const found = await probe(latest.current.report, address, [{ formula, format }]);
      if (isOver) return;
      setProblem(found.problems[0] ? problemWords(found.problems[0]) : null);
      setValues(found.problems.length > 0 ? null : (found.values[0] ?? []));
      if (!mayTry || !attempt || found.problems.length > 0 || draft === value) return;
      isTried.current = true;
      useDesigner.getState().attempt(attempt(formula));
    }, PAUSE);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [draft, bandName, format, active, probe]);

  const stopTrying = (): void => {
    giveUp.current();
    if (isTried.current) useDesigner.getState().attempt(null);
    isTried.current = false;
  };
  const commit = (): void => {
    const { draft: typed, value: was, onCommit: take } = latest.current;
    stopTrying();
    if (typed === was) return;
    const text = read.current.meant(typed);
    if (text === was) setDraft(was);
    else take(text);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it tries goes with the box, and with nothing else
  useEffect(() => stopTrying, []);

  // biome-ignore lint/correctness/useExhaustiveDependencies: taking over reads the latest values by itself
  const extensions = useMemo(
    () => [
      ...formulaLanguage,
      autocompletion({
        override: [completionSource(t, () => read.current.offered())],
        icons: false,
        // Enter takes the formula over when the list holds nothing new; see below.
        defaultKeymap: false,
      }),
      linter(
        (view): Diagnostic[] => {
          const text = view.state.doc.toString();
          if (text.trim() === '') return [];
          const { meant: named, problemsOf: problemsIn } = read.current;
          return problemsIn(named(text)).map((p) => ({
            from: Math.min(p.place.from ?? 0, text.length),
            to: Math.min(p.place.to ?? text.length, text.length),
            severity: p.severity,
            message: problemWords(p),
          }));
        },
        { delay: PAUSE },
      ),
      Prec.high(
        keymap.of([
          {
            key: 'Enter',
            run: (view) => {
              if (isChoosing(view)) return acceptCompletion(view);
              closeCompletion(view);
              commit();
              return true;
            },
          },
          { key: 'Shift-Enter', run: insertNewline },
          { key: 'Tab', run: acceptCompletion },
          ...completionKeymap.filter(({ key }) => key !== 'Enter' && key !== 'Escape'),
          {
            key: 'Escape',
            run: (view) => {
              if (completionStatus(view.state) === 'active') return closeCompletion(view);
              setDraft(latest.current.value);
              latest.current.draft = latest.current.value;
              stopTrying();
              document.querySelector<HTMLElement>('[data-testid="board"]')?.focus({ preventScroll: true });
              return true;
            },
          },
        ]),
      ),
      EditorView.contentAttributes.of({ 'aria-label': label }),
    ],
    [t, label],
  );
  const count = values?.length ?? 0;
  const row = count > 0 ? Math.min(at, count - 1) : 0;
  const hits = isCondition ? (values ?? []).filter((v) => v === 'TRUE').length : 0;
  return (
    <div className="min-w-0" data-setting={setting}>
      <div className={`overflow-visible rounded border ${problem && active ? 'border-rust' : 'border-rule'}`}>
        <CodeMirror
          value={draft}
          theme="none"
          extensions={extensions}
          placeholder={placeholder ?? ''}
          basicSetup={SETUP}
          autoFocus={autoFocus ?? false}
          onChange={setDraft}
          onFocus={() => onceReleased(() => useActiveBox.setState({ id }))}
          onBlur={() => onceReleased(commit)}
        />
      </div>
      {active && problem && (
        <p role="status" className="mt-1 text-[11.5px] text-rust">
          {problem}
        </p>
      )}
      {active && values && !problem && (
        <p role="status" data-testid="formula-value" className="mt-1 flex items-center gap-1 text-[11.5px] text-ink-2">
          {isCondition ? (
            t('formula.hits', { hits, count })
          ) : count === 0 ? (
            t('formula.noRows')
          ) : (
            <>
              <span className="min-w-0 flex-1 truncate">
                = <b className="font-semibold text-ink">{values[row] === '' ? t('formula.blank') : values[row]}</b>
              </span>
              {count > 1 && (
                <>
                  <Step label={t('formula.previousRow')} onPress={() => setAt(Math.max(0, row - 1))}>
                    <ChevronLeft size={12} aria-hidden />
                  </Step>
                  {t('formula.row', { row: row + 1, count })}
                  <Step label={t('formula.nextRow')} onPress={() => setAt(Math.min(count - 1, row + 1))}>
                    <ChevronRight size={12} aria-hidden />
                  </Step>
                </>
              )}
            </>
          )}
        </p>
      )}
    </div>
  );
};

const isPlace = (address: BandAddress | FormulaPlace): address is FormulaPlace => 'completions' in address;

/** Whether Enter picks from the list of completions: not when it holds what is written already. */
const isChoosing = (view: EditorView): boolean => {
  if (completionStatus(view.state) !== 'active') return false;
  const chosen = selectedCompletion(view.state);
  const before = view.state.sliceDoc(0, view.state.selection.main.head);
  return chosen !== null && !before.endsWith(chosen.label);
};

const Step = ({ label, onPress, children }: { label: string; onPress: () => void; children: React.ReactNode }) => (
  <button
    type="button"
    aria-label={label}
    className="grid size-4 place-items-center rounded hover:bg-desk"
    // The box keeps the cursor.
    onPointerDown={(event) => event.preventDefault()}
    onClick={onPress}
  >
    {children}
  </button>
);
