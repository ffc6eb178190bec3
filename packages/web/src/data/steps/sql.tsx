import { PostgreSQL, sql as sqlLanguage } from '@codemirror/lang-sql';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorView } from '@codemirror/view';
import {
  comparedColumn,
  type DataType,
  findEntity,
  type Model,
  type Parameter,
  type ParameterType,
  type StepOf,
  shownFields,
  writtenParameters,
} from '@gaveta/core/internal';
import { tags } from '@lezer/highlight';
import { useMutation } from '@tanstack/react-query';
import CodeMirror from '@uiw/react-codemirror';
import { Play } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { api } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { saidWords } from '../../i18n/words.ts';
import { Button, inputLook } from '../../ui/controls.tsx';
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
const Editor = ({ step, onChange, models, parameters, onNewParameters }: EditorProps<StepOf<'sql'>>) => {
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
  /** What is typed for the parameters that the statement names and nobody has made yet. */
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const asked = useMemo(() => askedBy(draft, model, parameters), [draft, model, parameters]);
  const run = useMutation({
    mutationFn: async (text: string) => {
      running.current?.abort();
      running.current = new AbortController();
      const made = asked.map((parameter) => withSample(parameter, typed[parameter.name]));
      const sent = { model: step.model, text, parameters: [...parameters, ...made] };
      return { made, ...(await api.describeSql(sent, running.current.signal)) };
    },
    onSuccess: ({ columns, made }, text) => {
      if (!columns) return;
      if (made.length > 0) onNewParameters(made);
      onChange({ ...step, text, columns });
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
      {asked.map((parameter) => (
        <label key={parameter.name} className="grid grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-2">
          <code className="text-[12px]">:{parameter.name}</code>
          <input
            className={inputLook}
            type={parameter.type === 'date' ? 'date' : 'text'}
            aria-label={t('data.sampleOf', { name: parameter.name })}
            value={typed[parameter.name] ?? ''}
            onChange={(event) => setTyped({ ...typed, [parameter.name]: event.target.value })}
          />
          <span className="text-[11.5px] text-ink-3">{t(`data.type_${parameter.type}`)}</span>
        </label>
      ))}
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

/** What a column's type asks for. */
const ASKED: Readonly<Record<DataType, ParameterType>> = {
  text: 'text',
  number: 'number',
  date: 'date',
  datetime: 'date',
  boolean: 'boolean',
  picture: 'text',
};

/** Parameters that a statement names and that are not there yet, each of the type of what it is compared with. */
const askedBy = (
  text: string,
  model: Pick<Model, 'entities'> | undefined,
  parameters: readonly Parameter[],
): Parameter[] =>
  writtenParameters(text)
    .filter((name) => !parameters.some((parameter) => parameter.name === name))
    .map((name) => {
      const column = comparedColumn(text, name)?.toLowerCase();
      const fields = model?.entities.filter((e) => new RegExp(`\\b${e.name}\\b`, 'i').test(text)) ?? [];
      const field = fields.flatMap((e) => e.fields).find((f) => f.name.toLowerCase() === column);
      const label = name.replaceAll('_', ' ');
      return { name, label: label.charAt(0).toUpperCase() + label.slice(1), type: ASKED[field?.type ?? 'text'] };
    });

const withSample = (parameter: Parameter, typed = ''): Parameter => {
  if (typed.trim() === '') return parameter;
  const number = Number(typed);
  const value = parameter.type === 'number' && Number.isSafeInteger(number) ? number : typed.trim();
  return { ...parameter, sample: value };
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
