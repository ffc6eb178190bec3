import type { GivenValue, Parameter } from '@gaveta/core/internal';
import { useState } from 'react';
import type { ParameterValues } from '../../api/client.ts';
import { NARROW } from '../narrow.ts';
import { type Staged, stage, withStaged } from './staged.ts';
import type { Values } from './use-values.ts';

/** The values of a report while its reader chooses others. */
export interface ValuesInHand {
  /** Those of the run. */
  given: ParameterValues;
  /** Those of the run, with what was chosen since over them. */
  shown: ParameterValues;
  staged: Staged;
  /** The panel with all of them is open: what is chosen waits until it is run. */
  isOpen: boolean;
  toggle: () => void;
  /** Takes one, and runs the report unless others wait already. */
  choose: (name: string, value: GivenValue) => void;
  /** Takes one that waits. */
  stage: (name: string, value: GivenValue) => void;
  /** Runs the report with what was chosen. */
  run: () => void;
  drop: () => void;
  /** Runs it with these and no others. */
  replace: (values: ParameterValues) => void;
}

export const useStaging = (values: Values, parameters: readonly Parameter[]): ValuesInHand => {
  const [staged, setStaged] = useState<Staged>({});
  const [isOpen, setOpen] = useState(false);
  const put = (name: string, value: GivenValue): void => {
    const parameter = parameters.find((one) => one.name === name);
    setStaged((old) => stage(old, values.given, name, value, parameter));
  };
  const isWaiting = isOpen || Object.keys(staged).length > 0;
  return {
    given: values.given,
    shown: withStaged(values.given, staged),
    staged,
    isOpen,
    toggle: () => setOpen((open) => !open),
    choose: (name, value) => (isWaiting ? put(name, value) : values.set({ [name]: value })),
    stage: put,
    run: () => {
      values.set(staged);
      setStaged({});
      // Where it lies over the pages, it has done what it was opened for.
      if (matchMedia(NARROW).matches) setOpen(false);
    },
    drop: () => setStaged({}),
    replace: (next) => {
      setStaged({});
      values.replace(next);
    },
  };
};
