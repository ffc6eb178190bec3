import { PostgreSQL, sql as sqlLanguage } from '@codemirror/lang-sql';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorView } from '@codemirror/view';
import { findEntity, type StepOf, shownFields } from '@gaveta/core/internal';
import { tags } from '@lezer/highlight';
import { useMutation } from '@tanstack/react-query';
import CodeMirror from '@uiw/react-codemirror';
import { Play } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { api } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { saidWords } from '../../i18n/words.ts';
import { Button } from '../../ui/controls.tsx';
import { editorLook } from '../../ui/editor-look.ts';
import { useFailureText } from '../../ui/failure.tsx';
import { Select } from '../../ui/select.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';

const colours = syntaxHighlighting(
  HighlightStyle.define([
    { tag: tags.keyword, color: 'var(--color-pine)', fontWeight: '600' },
    { tag: tags.string, color: 'var(--color-literal)' },
    { tag: tags.number, color: 'var(--color-literal)' },
    { tag: tags.comment, color: 'var(--color-ink-3)', fontStyle: 'italic' },
    { tag: tags.typeName, color: 'var(--color-ink-2)' },
  ]),
);

/** A reading statement written by hand: tables and columns are completed, an error is shown at its place. */
const Editor = ({ step, onChange, models, parameters }: EditorProps<StepOf<'sql'>>) => {
  const { t } = useTranslation();
  const said = useFailureText();
  const [draft, setDraft] = useState(step.text);
  const running = useRef<AbortController | null>(null);
  const model = models.find((m) => m.name === step.model);
  const schema = useMemo(
    () =>
      Object.fromEntries(
        (model?.entities ?? []).filter((e) => !e.arguments).map((e) => [e.name, e.fields.map((f) => f.name)]),
      ),
    [model],
  );
  const extensions = useMemo(
    () => [
      sqlLanguage({ dialect: PostgreSQL, schema, upperCaseKeywords: false }),
      EditorView.lineWrapping,
      editorLook,
      colours,
      EditorView.contentAttributes.of({ 'aria-label': t('data.statement') }),
    ],
    [schema, t],
  );
  const run = useMutation({
    mutationFn: async (text: string) => {
      running.current?.abort();
      running.current = new AbortController();
      return api.describeSql({ model: step.model, text, parameters }, running.current.signal);
    },
    onSuccess: ({ columns }, text) => {
      if (columns) onChange({ ...step, text, columns });
    },
  });
  const refused = run.data?.failure;
  const failure = refused
    ? { detail: saidWords(refused.said), position: refused.position }
    : run.error && !isAbort(run.error)
      ? { detail: said(run.error).detail, position: null }
      : null;
  return (
    <div className="flex flex-col gap-1.5">
      <Select
        label={t('data.database')}
        value={step.model}
        blank={t('data.chooseDatabase')}
        choices={models.map((m) => ({ value: m.name, label: m.label }))}
        onPick={(name) => onChange({ ...step, model: name })}
      />
      <div className="overflow-hidden rounded border border-rule">
        <CodeMirror
          value={draft}
          theme="none"
          minHeight="90px"
          maxHeight="320px"
          extensions={extensions}
          onChange={setDraft}
          basicSetup={{ foldGutter: false, highlightActiveLine: false }}
        />
      </div>
      <div className="flex items-center gap-2">
        {run.isPending ? (
          <Button onClick={() => running.current?.abort()}>{t('data.cancel')}</Button>
        ) : (
          <Button look="primary" onClick={() => run.mutate(draft)}>
            <Play size={13} aria-hidden /> {t('data.runSql')}
          </Button>
        )}
        <span className="text-[11.5px] text-ink-3">
          {draft !== step.text && step.text !== '' ? t('data.sqlNotRun') : t('data.sqlHint')}
        </span>
      </div>
      {failure && (
        <div role="alert" className="rounded bg-rust-soft px-2 py-1.5 text-rust-strong">
          {failure.position !== null && <Excerpt text={draft} position={failure.position} />}
          {failure.detail}
        </div>
      )}
      {!failure && step.columns.length > 0 && (
        <p className="text-[11.5px] text-ink-3">
          {t('data.sqlColumns', { columns: step.columns.map((c) => c.name).join(', ') })}
        </p>
      )}
      {model && (
        <Tables
          names={model.entities
            .filter((e) => !e.arguments)
            .map((e) => `${e.name} (${shownFields(findEntity(model, e.name)!.fields).length})`)}
        />
      )}
    </div>
  );
};

const isAbort = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError';

/** The line of an error with a mark under its place. */
const Excerpt = ({ text, position }: { text: string; position: number }) => {
  const { t } = useTranslation();
  const before = text.slice(0, position);
  const line = before.split('\n').length;
  const column = position - (before.lastIndexOf('\n') + 1);
  const whole = text.split('\n')[line - 1] ?? '';
  return (
    <pre className="mb-1 overflow-auto font-mono text-[12px]">
      {t('data.line', { line })} {whole}
      {'\n'}
      {' '.repeat(t('data.line', { line }).length + 1 + column)}^
    </pre>
  );
};

const Tables = ({ names }: { names: readonly string[] }) => {
  const { t } = useTranslation();
  return (
    <details>
      <summary className="cursor-pointer text-ink-2">{t('data.tablesHere', { count: names.length })}</summary>
      <p className="font-mono text-[11.5px] text-ink-2">{names.join(', ')}</p>
    </details>
  );
};

export const sqlRoom: StepRoom<'sql'> = {
  Editor,
  begin: ({ model }) => ({ step: 'sql', model, text: '', columns: [] }),
  words: ({ text }) => [[{ code: text.trim().split('\n')[0] || '…' }]],
};
