import type { StepOf } from '@gaveta/core/internal';
import { SourceSelect } from '../source-select.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';

const Editor = (props: EditorProps<StepOf<'stack'>>) => {
  const { step, onChange } = props;
  return <SourceSelect {...props} value={step.from} onPick={(from) => onChange({ ...step, from })} />;
};

export const stackRoom: StepRoom<'stack'> = {
  Editor,
  begin: ({ planned }) => {
    const [top] = planned.steps;
    return { step: 'stack', from: top?.step.step === 'take' ? top.step.from : { recipe: '' } };
  },
  words: ({ from }, { source }) => [[source(from)]],
};
