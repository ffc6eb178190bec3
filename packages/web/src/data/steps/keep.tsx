import type { StepOf } from '@gaveta/core/internal';
import { ConditionEditor } from '../condition-editor.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { conditionLines } from '../step-words.ts';

const Editor = ({ step, onChange, fields, parameters, before, onNewParameter }: EditorProps<StepOf<'keep'>>) => (
  <ConditionEditor
    condition={step.where}
    fields={fields}
    parameters={parameters}
    before={before}
    onChange={(where) => onChange({ ...step, where })}
    onNewParameter={onNewParameter}
  />
);

export const keepRoom: StepRoom<'keep'> = {
  Editor,
  begin: ({ first }) => ({ step: 'keep', where: { all: [{ field: first, is: 'notBlank' }] } }),
  words: ({ where }, names) => conditionLines(where, names),
};
