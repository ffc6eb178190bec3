import type { Step, StepKind } from '../definition/recipe.ts';
import type { StepRoom } from './planning.ts';
import { addStep } from './steps/add.ts';
import { alongStep } from './steps/along.ts';
import { bringStep } from './steps/bring.ts';
import { columnsStep } from './steps/columns.ts';
import { convertStep } from './steps/convert.ts';
import { distinctStep } from './steps/distinct.ts';
import { fillStep } from './steps/fill.ts';
import { firstStep } from './steps/first.ts';
import { gatherStep } from './steps/gather.ts';
import { joinStep } from './steps/join.ts';
import { keepStep } from './steps/keep.ts';
import { sortStep } from './steps/sort.ts';
import { splitStep } from './steps/split.ts';
import { spreadStep } from './steps/spread.ts';
import { sqlStep } from './steps/sql.ts';
import { stackStep } from './steps/stack.ts';
import { summariseStep } from './steps/summarise.ts';
import { takeStep } from './steps/take.ts';

const STEPS: { readonly [K in StepKind]: StepRoom<K> } = {
  take: takeStep,
  sql: sqlStep,
  bring: bringStep,
  keep: keepStep,
  add: addStep,
  summarise: summariseStep,
  spread: spreadStep,
  sort: sortStep,
  first: firstStep,
  distinct: distinctStep,
  stack: stackStep,
  columns: columnsStep,
  along: alongStep,
  convert: convertStep,
  gather: gatherStep,
  fill: fillStep,
  split: splitStep,
  join: joinStep,
};

/** Records are by kind: a step's room is that of its own kind. */
export const stepRoom = (step: Step): StepRoom => STEPS[step.step] as unknown as StepRoom;

/**
 * The step without a column that is gone, so that it works again. Null when nothing would be left of it, or when the
 * column stands in a formula, where leaving it out could mean anything.
 */
export const mendStep = (step: Step, gone: string): Step | null => stepRoom(step).without(step, gone);
