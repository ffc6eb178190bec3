import type { GivenValue, Parameter } from '@gaveta/core/internal';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ParameterValues } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import type { ChoiceSource } from '../../parameters/use-choices.ts';
import { NARROW } from '../narrow.ts';
import { type AskAmong, type Unfit, unfitAfter } from './following.ts';
import { type Staged, stage, withStaged } from './staged.ts';
import type { Values } from './use-values.ts';

/** The values of a report while its reader chooses others. */
export interface ValuesInHand {
  /** Those of the run. */
  given: ParameterValues;
  /** Those of the run, with what was chosen since over them. */
  shown: ParameterValues;
  staged: Staged;
  /** What was taken back with the last choice, since it is not offered for it. */
  unfit: { by: Parameter; list: readonly Unfit[] } | null;
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

export const useStaging = (values: Values, parameters: readonly Parameter[], source: ChoiceSource): ValuesInHand => {
  const client = useQueryClient();
  const [staged, setStaged] = useState<Staged>({});
  const [isOpen, setOpen] = useState(false);
  const [unfit, setUnfit] = useState<ValuesInHand['unfit']>(null);
  const shown = withStaged(values.given, staged);
  const put = (chosen: Readonly<Record<string, GivenValue>>): void =>
    setStaged((old) =>
      Object.entries(chosen).reduce((next, [name, value]) => {
        const parameter = parameters.find((one) => one.name === name);
        return stage(next, values.given, name, value, parameter);
      }, old),
    );
  const ask: AskAmong = async (parameter, others, among) => {
    try {
      const found = await client.fetchQuery(queries.choices(source, parameter, others, '', among));
      return found.failure ? null : found.choices.map((choice) => choice.value);
    } catch {
      // What cannot be told now is said by the run.
      return null;
    }
  };
  /** Takes a value, and takes back those that are not offered for it. */
  const take = async (
    name: string,
    value: GivenValue,
    apply: (chosen: Readonly<Record<string, GivenValue>>) => void,
  ): Promise<void> => {
    setUnfit(null);
    const list = await unfitAfter(parameters, { ...shown, [name]: value }, name, ask);
    apply({ [name]: value, ...Object.fromEntries(list.map(({ parameter, left }) => [parameter.name, left])) });
    const by = parameters.find((one) => one.name === name);
    if (by && list.length > 0) setUnfit({ by, list });
  };
  const isWaiting = isOpen || Object.keys(staged).length > 0;
  return {
    given: values.given,
    shown,
    staged,
    unfit,
    isOpen,
    toggle: () => setOpen((open) => !open),
    choose: (name, value) => void take(name, value, isWaiting ? put : values.set),
    stage: (name, value) => void take(name, value, put),
    run: () => {
      values.set(staged);
      setStaged({});
      // Where it lies over the pages, it has done what it was opened for.
      if (matchMedia(NARROW).matches) setOpen(false);
    },
    drop: () => {
      setStaged({});
      setUnfit(null);
    },
    replace: (next) => {
      setStaged({});
      setUnfit(null);
      values.replace(next);
    },
  };
};
