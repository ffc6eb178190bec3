import { useState } from 'react';
import type { OutputFacts, RunState } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Check } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { useFailureText } from '../../ui/failure.tsx';
import { browserMemory } from '../../ui/memory.ts';
import { isAllOpen } from '../use-laid.ts';
import { NameBox } from './name-box.tsx';
import { OptionBoxes } from './option-boxes.tsx';
import {
  askedOptions,
  type OptionValues,
  optionBoxes,
  rememberExport,
  rememberedName,
  rememberedOptions,
  rememberedOutput,
  rememberedSeveral,
  rememberNaming,
  unknownPart,
} from './options.ts';
import type { useExport } from './use-export.ts';
import { useExportWords } from './words.ts';

const KINDS = ['pages', 'content', 'rows'] as const satisfies OutputFacts['takes'][];

interface Props {
  run: RunState;
  outputs: readonly OutputFacts[];
  parameters: readonly string[];
  making: ReturnType<typeof useExport>;
}

/** The formats, the options of the chosen one, and how far its file is. */
export const ExportPanel = ({ run, outputs, parameters, making: { write, progress, cancel } }: Props) => {
  const { t } = useTranslation();
  const words = useExportWords();
  const failureText = useFailureText();
  const memory = browserMemory();
  const [name, setName] = useState(() => {
    const last = write.isPending ? write.variables.files[0]?.output.name : rememberedOutput(memory);
    return outputs.some((output) => output.name === last) ? last! : outputs[0]!.name;
  });
  const output = outputs.find((one) => one.name === name)!;
  const boxes = optionBoxes(output);
  const [chosen, setChosen] = useState<Record<string, OptionValues>>({});
  const values = chosen[name] ?? rememberedOptions(memory, name);
  const [open, setOpen] = useState(false);
  const [fileName, setFileName] = useState(() => rememberedName(memory));
  /** Outputs that are taken together; none where one is taken. */
  const [several, setSeveral] = useState(() => {
    const last = rememberedSeveral(memory).filter((one) => outputs.some((other) => other.name === one));
    return last.length > 1 ? last : null;
  });
  const parts = ['report', 'date', 'time', ...parameters];
  const unknown = unknownPart(fileName, parts);
  // Rows leave whole, whatever is closed.
  const wanted = several ? outputs.filter((one) => several.includes(one.name)) : [output];
  const hasClosed = wanted.some(({ takes }) => takes !== 'rows') && run.isFoldable && !isAllOpen(run);
  const isBusy = write.isPending;
  const failure = failureText(write.error);
  const share = progress && Math.min(1, progress.done / Math.max(1, progress.of));
  const start = (): void => {
    const files = wanted.map((one) => {
      const given = chosen[one.name] ?? rememberedOptions(memory, one.name);
      rememberExport(memory, one.name, given);
      return { output: one, options: askedOptions(optionBoxes(one), given) };
    });
    rememberExport(memory, name, values);
    rememberNaming(memory, fileName, several ?? []);
    write.mutate({ files, fileName, open: hasClosed && open });
  };
  return (
    <>
      <fieldset
        aria-label={t('export.formats')}
        className="w-[210px] flex-none overflow-auto border-e border-rule py-2 max-sm:w-[42%]"
      >
        {KINDS.map((kind) => {
          const those = outputs.filter(({ takes }) => takes === kind);
          if (those.length === 0) return null;
          return (
            <div key={kind} className="mb-1.5">
              <h3 className="px-3 py-1 text-[11.5px] text-ink-3">{t(`export.kind_${kind}`)}</h3>
              {those.map((one) => (
                <div
                  key={one.name}
                  className={`flex items-center ${one.name === name ? 'bg-pine-soft font-semibold' : 'hover:bg-desk-2'}`}
                >
                  {several && (
                    <input
                      type="checkbox"
                      className="ms-3 flex-none"
                      aria-label={words.format(one)}
                      disabled={isBusy}
                      checked={several.includes(one.name)}
                      onChange={({ target: { checked } }) => {
                        setSeveral(checked ? [...several, one.name] : several.filter((other) => other !== one.name));
                        if (checked) setName(one.name);
                      }}
                    />
                  )}
                  <button
                    type="button"
                    aria-pressed={one.name === name}
                    disabled={isBusy}
                    data-output={one.name}
                    className={`block min-w-0 flex-1 py-1 pe-3 text-start ${several ? 'ps-2' : 'ps-3'}`}
                    onClick={() => {
                      setName(one.name);
                      write.reset();
                    }}
                  >
                    {words.format(one)}
                  </button>
                </div>
              ))}
            </div>
          );
        })}
      </fieldset>
      <div className="flex min-h-[320px] min-w-0 flex-1 flex-col">
        <div className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-auto p-3">
          <h2 className="font-semibold">{words.format(output)}</h2>
          {words.help(output) !== '' && <p className="text-ink-2">{words.help(output)}</p>}
          <fieldset disabled={isBusy} className="min-w-0">
            <OptionBoxes boxes={boxes} values={values} onChange={(next) => setChosen({ ...chosen, [name]: next })} />
            {hasClosed && <Check label={t('export.allOpen')} checked={open} onChange={setOpen} />}
          </fieldset>
          <fieldset disabled={isBusy} className="min-w-0">
            <NameBox value={fileName} parts={parts} onChange={setFileName} />
            {unknown !== null && (
              <p role="alert" className="mt-1 text-rust">
                {t('export.fileNameUnknown', { part: unknown })}
              </p>
            )}
            <div className="mt-2">
              <Check
                label={t('export.several')}
                checked={several !== null}
                onChange={(on) => setSeveral(on ? [name] : null)}
              />
            </div>
          </fieldset>
        </div>
        <div className="flex flex-none flex-col gap-2 border-t border-rule p-3">
          {write.isError && (
            <p role="alert" className="text-rust">
              {failure.detail || failure.title}
            </p>
          )}
          <div className="flex items-center gap-2.5">
            {isBusy ? (
              <>
                <div
                  role="progressbar"
                  aria-label={t('export.progress')}
                  {...(share === null ? {} : { 'aria-valuenow': Math.round(share * 100) })}
                  className="h-1.5 min-w-0 flex-1 overflow-hidden rounded-full bg-desk-2"
                >
                  <div className="h-full bg-pine" style={{ width: `${(share ?? 0) * 100}%` }} />
                </div>
                <span className="text-[11.5px] text-ink-3" data-testid="export-progress">
                  {progress
                    ? t(wanted.length > 1 ? 'export.done_files' : `export.done_${output.takes}`, progress)
                    : t('export.preparing')}
                </span>
                <Button onClick={cancel}>{t('viewer.cancel')}</Button>
              </>
            ) : (
              <Button
                look="primary"
                data-testid="export-start"
                disabled={wanted.length === 0 || unknown !== null}
                onClick={start}
              >
                {wanted.length > 1 ? t('export.startSeveral', { count: wanted.length }) : t('export.start')}
              </Button>
            )}
          </div>
        </div>
      </div>
    </>
  );
};
