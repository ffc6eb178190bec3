import type { Step, StepKind } from '@gaveta/core/internal';
import { createElement, type FC } from 'react';
import type { Beginning, EditorProps, StepRoom } from './step-room.ts';
import type { StepNames, Word } from './step-words.ts';
import { addRoom } from './steps/add.tsx';
import { alongRoom } from './steps/along.tsx';
import { bringRoom } from './steps/bring.tsx';
import { columnsRoom } from './steps/columns.tsx';
import { convertRoom } from './steps/convert.tsx';
import { distinctRoom } from './steps/distinct.tsx';
import { fillRoom } from './steps/fill.tsx';
import { firstRoom } from './steps/first.tsx';
import { gatherRoom } from './steps/gather.tsx';
import { joinRoom } from './steps/join.tsx';
import { keepRoom } from './steps/keep.tsx';
import { sortRoom } from './steps/sort.tsx';
import { splitRoom } from './steps/split.tsx';
import { spreadRoom } from './steps/spread.tsx';
import { sqlRoom } from './steps/sql.tsx';
import { stackRoom } from './steps/stack.tsx';
import { summariseRoom } from './steps/summarise.tsx';
import { takeRoom } from './steps/take.tsx';

const STEP_ROOMS: { readonly [K in StepKind]: StepRoom<K> } = {
  take: takeRoom,
  sql: sqlRoom,
  bring: bringRoom,
  keep: keepRoom,
  add: addRoom,
  summarise: summariseRoom,
  spread: spreadRoom,
  sort: sortRoom,
  first: firstRoom,
  distinct: distinctRoom,
  stack: stackRoom,
  columns: columnsRoom,
  along: alongRoom,
  convert: convertRoom,
  gather: gatherRoom,
  fill: fillRoom,
  split: splitRoom,
  join: joinRoom,
};

/** Records are by kind: a step's room is that of its own kind. */
export const stepRoom = (kind: StepKind): StepRoom => STEP_ROOMS[kind] as unknown as StepRoom;

/** Edits a step of any kind. */
export const StepEditor: FC<EditorProps> = (props) => createElement(stepRoom(props.step.step).Editor, props);

/** Steps that can be added, the likeliest first. */
export const NEW_STEPS: readonly StepKind[] = [
  'keep',
  'bring',
  'add',
  'summarise',
  'sort',
  'first',
  'columns',
  'along',
  'convert',
  'fill',
  'split',
  'join',
  'spread',
  'gather',
  'distinct',
  'stack',
];

/** What a new step of a kind starts with. */
export const newStep = (kind: StepKind, at: Omit<Beginning, 'first'>): Step => {
  const first = at.fields.find((f) => !f.hidden && f.type !== 'picture')?.name ?? '';
  return stepRoom(kind).begin({ ...at, first });
};

/** What a step says behind its name, line by line. */
export const stepLines = (step: Step, names: StepNames): Word[][] => stepRoom(step.step).words(step, names);
