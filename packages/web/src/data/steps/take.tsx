import { findEntity, type StepOf } from '@gaveta/core/internal';
import { TextBox } from '../fields.tsx';
import { SourceSelect } from '../source-select.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';

const Editor = (props: EditorProps<StepOf<'take'>>) => {
  const { step, onChange, models } = props;
  const { from } = step;
  const model = 'entity' in from ? models.find((m) => m.name === from.model) : undefined;
  const entity = model && 'entity' in from ? findEntity(model, from.entity) : null;
  return (
    <div className="flex flex-col gap-1.5">
      <SourceSelect {...props} value={from} onPick={(next) => onChange({ ...step, from: next })} />
      {'entity' in from &&
        (entity?.arguments ?? []).map((argument) => (
          // biome-ignore lint/a11y/noLabelWithoutControl: the control is inside
          <label key={argument.name} className="grid grid-cols-[80px_1fr] items-center gap-1.5">
            <span className="text-ink-2">{argument.label}</span>
            <TextBox
              label={argument.label}
              className="font-mono text-[12px]"
              placeholder={argument.type === 'date' ? 'DATE(2025; 1; 1)' : ''}
              value={from.arguments?.[argument.name] ?? ''}
              onChange={(formula) =>
                onChange({ ...step, from: { ...from, arguments: { ...from.arguments, [argument.name]: formula } } })
              }
            />
          </label>
        ))}
    </div>
  );
};

export const takeRoom: StepRoom<'take'> = {
  Editor,
  begin: () => ({ step: 'take', from: { model: '', entity: '' } }) as unknown as StepOf<'take'>,
  words: ({ from }, { source }) => [[source(from)]],
};
