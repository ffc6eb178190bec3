import { useState } from 'react';
import { useTranslation } from 'react-i18next';
import type { OutputFacts, RunState } from '../../api/client.ts';
import { Check } from '../../ui/commit.tsx';
import { Button } from '../../ui/controls.tsx';
import { useFailureText } from '../../ui/failure.tsx';
import { browserMemory } from '../remembered.ts';
import { isAllOpen } from '../use-folds.ts';
import { OptionBoxes } from './option-boxes.tsx';
import {
  askedOptions,
  type OptionValues,
  optionBoxes,
  rememberExport,
  rememberedOptions,
  rememberedOutput,
} from './options.ts';
import type { useExport } from './use-export.ts';
import { useExportWords } from './words.ts';

const KINDS = ['pages', 'content', 'rows'] as const satisfies OutputFacts['takes'][];

interface Props {
  run: RunState;
  outputs: readonly OutputFacts[];
  making: ReturnType<typeof useExport>;
}

/** The formats, the options of the chosen one, and how far its file is. */
export const ExportPanel = ({ run, outputs, making: { write, progress, cancel } }: Props) => {
  const { t } = useTranslation();
  const words = useExportWords();
  const failureText = useFailureText();
  const memory = browserMemory();
  const [name, setName] = useState(() => {
    const last = write.isPending ? write.variables.output.name : rememberedOutput(memory);
    return outputs.some((output) => output.name === last) ? last! : outputs[0]!.name;
  });
  const output = outputs.find((one) => one.name === name)!;
  const boxes = optionBoxes(output);
  const [chosen, setChosen] = useState<Record<string, OptionValues>>({});
  const values = chosen[name] ?? rememberedOptions(memory, name);
  const [open, setOpen] = useState(false);
  // Rows leave whole, whatever is closed.
  const hasClosed = output.takes !== 'rows' && run.isFoldable && !isAllOpen(run);
  const isBusy = write.isPending;
  const failure = failureText(write.error);
  const share = progress && Math.min(1, progress.done / Math.max(1, progress.of));
  const start = (): void => {
    rememberExport(memory, name, values);
    write.mutate({ output, options: askedOptions(boxes, values), open: hasClosed && open });
  };
  return (
    <>
      <fieldset
        aria-label={t('export.formats')}
        className="w-[210px] flex-none overflow-auto border-r border-rule py-2 max-sm:w-[42%]"
      >
        {KINDS.map((kind) => {
          const those = outputs.filter(({ takes }) => takes === kind);
          if (those.length === 0) return null;
          return (
            <div key={kind} className="mb-1.5">
              <h3 className="px-3 py-1 text-[11.5px] text-ink-3">{t(`export.kind_${kind}`)}</h3>
              {those.map((one) => (
                <button
                  key={one.name}
                  type="button"
                  aria-pressed={one.name === name}
                  disabled={isBusy}
                  data-output={one.name}
                  className={`block w-full px-3 py-1 text-left ${one.name === name ? 'bg-pine-soft font-semibold' : 'hover:bg-desk-2'}`}
                  onClick={() => {
                    setName(one.name);
                    write.reset();
                  }}
                >
                  {words.format(one)}
                </button>
              ))}
            </div>
          );
        })}
      </fieldset>
      <div className="flex min-h-[320px] min-w-0 flex-1 flex-col gap-2.5 overflow-auto p-3">
        <h2 className="font-semibold">{words.format(output)}</h2>
        {words.help(output) !== '' && <p className="text-ink-2">{words.help(output)}</p>}
        <fieldset disabled={isBusy} className="min-w-0">
          <OptionBoxes boxes={boxes} values={values} onChange={(next) => setChosen({ ...chosen, [name]: next })} />
          {hasClosed && <Check label={t('export.allOpen')} checked={open} onChange={setOpen} />}
        </fieldset>
        {write.isError && (
          <p role="alert" className="text-rust">
            {failure.detail || failure.title}
          </p>
        )}
        <div className="mt-auto flex items-center gap-2.5 pt-1">
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
                {progress ? t(`export.done_${output.takes}`, progress) : t('export.preparing')}
              </span>
              <Button onClick={cancel}>{t('viewer.cancel')}</Button>
            </>
          ) : (
            <Button look="primary" data-testid="export-start" onClick={start}>
              {t('export.start')}
            </Button>
          )}
        </div>
      </div>
    </>
  );
};
