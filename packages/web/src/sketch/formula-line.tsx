import { acceptCompletion, autocompletion, completionKeymap } from '@codemirror/autocomplete';
import { Prec } from '@codemirror/state';
import { type EditorView, keymap } from '@codemirror/view';
import {
  type Completion,
  changedColumn,
  offeredEverywhere,
  type Problem,
  reportSchema,
  type SketchColumn,
  sketchProblems,
  withFormula,
  writtenName,
} from '@gaveta/core/internal';
import CodeMirror from '@uiw/react-codemirror';
import { useMemo, useState } from 'react';
import { completionSource, formulaLanguage } from '../designer/formula/language.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemKey, problemWords } from '../i18n/words.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { useParts } from './parts.ts';
import { columnLabel, pathLabel } from './words.ts';

const SETUP = {
  lineNumbers: false,
  foldGutter: false,
  highlightActiveLine: false,
  autocompletion: false,
  lintKeymap: false,
  searchKeymap: false,
};

interface EditorProps {
  value: string;
  onChange: (formula: string) => void;
  onDone: () => void;
  offered: readonly Completion[];
  autoFocus?: boolean;
}

/** A box for a formula, with colours and completion. Enter is for whoever stands around it. */
const FormulaEditor = ({ value, onChange, onDone, offered, autoFocus = false }: EditorProps) => {
  const { t } = useTranslation();
  const extensions = useMemo(
    () => [
      formulaLanguage,
      autocompletion({ override: [completionSource(t, () => offered)], icons: false }),
      Prec.highest(
        keymap.of([
          ...completionKeymap,
          { key: 'Tab', run: acceptCompletion },
          {
            key: 'Enter',
            run: (view: EditorView) => {
              if (acceptCompletion(view)) return true;
              onDone();
              return true;
            },
          },
        ]),
      ),
    ],
    [t, offered, onDone],
  );
  return (
    <CodeMirror
      aria-label={t('data.formula')}
      className="min-h-[26px] rounded border border-rule bg-paper"
      value={value}
      basicSetup={SETUP}
      extensions={extensions}
      autoFocus={autoFocus}
      onChange={onChange}
    />
  );
};

/** What a formula can name: fields of a row and of others along its relations, or the columns of a line. */
const useOffered = (isOfLine: boolean, own: string | null): Completion[] => {
  const { reach, sketch } = useParts();
  return useMemo(() => {
    const names: Completion[] = isOfLine
      ? sketch.columns
          .filter(({ name }) => name !== own)
          .map((column) => ({
            kind: 'field',
            insert: writtenName(column.name),
            label: columnLabel(column, reach),
            type: null,
            detail: '',
          }))
      : reach
          .filter(({ isMany }) => !isMany)
          .flatMap(({ way, fields }) =>
            fields
              .filter(({ hidden, type }) => !hidden && type !== 'picture')
              .map((field): Completion => {
                const path = [...way, field.name];
                return {
                  kind: 'field',
                  insert: path.map(writtenName).join('.'),
                  label: pathLabel(path.join('.'), reach),
                  type: field.type,
                  detail: '',
                };
              }),
          );
    const empty = reportSchema.parse({ gaveta: 2, name: 'Sketch' });
    return [...names, ...offeredEverywhere(empty)];
  }, [isOfLine, own, reach, sketch.columns]);
};

const Problems = ({ list }: { list: readonly Problem[] }) =>
  list.length === 0 ? null : (
    <div role="alert" className="rounded bg-rust-soft px-2 py-1 text-rust-strong">
      {list.slice(0, 3).map((one) => (
        <p key={problemKey(one)}>{problemWords(one)}</p>
      ))}
    </div>
  );

/** The formula of a column that is worked out. */
export const FormulaLine = ({ column }: { column: SketchColumn }) => {
  const { t } = useTranslation();
  const { sketch, change, context } = useParts();
  const isOfLine = column.ofLine !== undefined;
  const written = column.ofLine ?? column.formula ?? '';
  const [draft, setDraft] = useState(written);
  const offered = useOffered(isOfLine, column.name);
  const next = changedColumn(sketch, column.name, isOfLine ? { ofLine: draft } : { formula: draft });
  const problems = draft === written ? [] : sketchProblems(next, context);
  const done = (): void => {
    if (draft.trim() !== '' && draft !== written && problems.length === 0) change(next);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: leaving the box takes its formula over
    <div className="flex flex-col gap-1" onBlur={done}>
      <span className="text-[11.5px] text-ink-2">{t(isOfLine ? 'sketch.formulaOfLine' : 'sketch.formulaOfRow')}</span>
      <FormulaEditor value={written} onChange={setDraft} onDone={done} offered={offered} />
      <Problems list={problems} />
    </div>
  );
};

/** Makes a column that is worked out. */
export const NewFormula = ({ onClose }: { onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change, context } = useParts();
  const [label, setLabel] = useState('');
  const [formula, setFormula] = useState('');
  const [isOfLine, setOfLine] = useState(!sketch.rows);
  const offered = useOffered(isOfLine, null);
  const name = label.trim() === '' ? t('sketch.calculated') : label.trim();
  const next = withFormula(sketch, name, formula, isOfLine);
  const problems = formula.trim() === '' ? [] : sketchProblems(next, context);
  const done = (): void => {
    if (formula.trim() === '' || problems.length > 0) return;
    change(next);
    onClose();
  };
  return (
    <div className="flex flex-col gap-2 p-3">
      <h3 className="font-semibold">{t('sketch.newFormula')}</h3>
      <input
        className={inputLook}
        aria-label={t('sketch.formulaName')}
        placeholder={t('sketch.formulaName')}
        value={label}
        onChange={({ target }) => setLabel(target.value)}
      />
      <FormulaEditor value={formula} onChange={setFormula} onDone={done} offered={offered} />
      <fieldset className="flex flex-col gap-0.5">
        {([true, false] as const).map((line) => (
          <label key={String(line)} className="flex items-center gap-1.5">
            <input type="radio" name="of" checked={isOfLine === line} onChange={() => setOfLine(line)} />
            {t(line ? 'sketch.formulaOfLine' : 'sketch.formulaOfRow')}
          </label>
        ))}
      </fieldset>
      <Problems list={problems} />
      <Button
        look="primary"
        className="self-end"
        disabled={formula.trim() === '' || problems.length > 0}
        onClick={done}
      >
        {t('sketch.addIt')}
      </Button>
    </div>
  );
};
