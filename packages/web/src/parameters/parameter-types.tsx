import {
  type GivenValue,
  isUsualWindow,
  type Parameter,
  type ParameterType,
  splitChoices,
  splitRange,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import type { FC } from 'react';
import {
  DateRange,
  ManyChoices,
  OneChoice,
  type ParameterEditorProps,
  Single,
  TimeWindow,
  YesNo,
} from './value-editors.tsx';

interface Telling {
  parameter: Parameter;
  t: TFunction;
  /** Tag of the interface's language. */
  language: string;
}

/** Everything that the screens need of one type of parameter. */
interface ParameterRoom {
  Editor: FC<ParameterEditorProps>;
  /** A value as its chip says it. */
  words: (value: NonNullable<GivenValue>, telling: Telling) => string;
}

const day = (text: string, { language }: Telling): string => {
  const date = new Date(text.length === 10 ? `${text}T00:00` : text);
  return Number.isNaN(date.getTime()) ? text : date.toLocaleDateString(language, { dateStyle: 'medium' });
};

const labelOf = (value: string, { parameter }: Telling): string =>
  parameter.choices?.find((choice) => choice.value === value)?.label ?? value;

const range: ParameterRoom['words'] = (value, telling) => {
  const ends = splitRange(String(value));
  return ends ? ends.map((end) => (end === '' ? '…' : day(end, telling))).join(' – ') : String(value);
};

const PARAMETER_ROOMS: { readonly [K in ParameterType]: ParameterRoom } = {
  text: { Editor: Single, words: String },
  number: { Editor: Single, words: String },
  date: { Editor: Single, words: (value, telling) => day(String(value), telling) },
  dates: { Editor: DateRange, words: range },
  window: {
    Editor: TimeWindow,
    words: (value, telling) => {
      const name = String(value);
      if (isUsualWindow(name)) return telling.t(`viewer.window_${name}`);
      return telling.parameter.windows?.find((own) => own.value === name)?.label ?? range(value, telling);
    },
  },
  boolean: { Editor: YesNo, words: (value, { t }) => t(String(value) === 'true' ? 'data.yes' : 'data.no') },
  choice: { Editor: OneChoice, words: (value, telling) => labelOf(String(value), telling) },
  choices: {
    Editor: ManyChoices,
    words: (value, telling) => {
      const list = splitChoices(value);
      const { t } = telling;
      return list.length > 2
        ? t('viewer.chosen', { count: list.length })
        : list.map((one) => labelOf(one, telling)).join(', ');
    },
  },
};

/** A value as its chip says it; empty when there is none. */
export const valueWords = (value: GivenValue, telling: Telling): string =>
  value === null || value === '' ? '' : PARAMETER_ROOMS[telling.parameter.type].words(value, telling);

/** Edits a parameter's value in the way of its type. */
export const ParameterEditor = (props: ParameterEditorProps) => {
  const { Editor } = PARAMETER_ROOMS[props.parameter.type];
  return <Editor {...props} />;
};
