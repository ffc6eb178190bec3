import { parseNumeric } from '../value/number.ts';
import { bound, type Checked, commonType } from './checked.ts';
import type { ArgumentType, SpecialForm } from './functions/index.ts';
import type { FormulaScope } from './scope.ts';
import type { Tree } from './tree.ts';

/** What checking a special form needs of the checker around it. */
export interface FormChecker {
  want(wanted: ArgumentType, checked: Checked, tree: Tree, where: string): boolean;
  counted(tree: Tree & { kind: 'call' }, min: number, max: number): boolean;
  all(trees: readonly Tree[], scope: FormulaScope): Checked[] | null;
  comparable(left: Checked, right: Checked, tree: { operator: string; right: Tree }): boolean;
}

const MISSING: Checked = { kind: 'call', name: 'NA', arguments: [], type: 'any' };

/** `cases` from the last to the first, each behind its condition. */
const chain = (cases: readonly { condition: Checked; value: Checked }[], otherwise: Checked): Checked => {
  const type = commonType([...cases.map((c) => c.value), otherwise]);
  return cases.reduceRight<Checked>(
    (no, { condition, value }) => ({ kind: 'if', condition, yes: value, no, type }),
    otherwise,
  );
};

/** Checks a function that decides which of its arguments are worked out. */
export const checkForm = (
  checker: FormChecker,
  tree: Tree & { kind: 'call' },
  name: SpecialForm,
  scope: FormulaScope,
): Checked | null => {
  const trees = tree.arguments;
  const least: Record<SpecialForm, [number, number]> = {
    IF: [2, 3],
    IFS: [2, 100],
    SWITCH: [3, 100],
    CHOOSE: [2, 100],
    IFERROR: [2, 2],
    IFNA: [2, 2],
    ISERROR: [1, 1],
    WITHIN: [2, 2],
    TEXT: [2, 2],
    LABELOF: [1, 1],
  };
  if (!checker.counted(tree, ...least[name])) return null;
  if (name === 'IFS' && trees.length % 2 === 1 && !checker.counted(tree, trees.length + 1, trees.length + 1))
    return null;
  const list = checker.all(trees, scope);
  if (!list) return null;
  const [first, second, third] = list as [Checked, Checked, Checked?];
  switch (name) {
    case 'IF': {
      if (!checker.want('boolean', first, trees[0]!, 'The condition of IF')) return null;
      const type = third ? commonType([second, third]) : second.type;
      return { kind: 'if', condition: first, yes: second, no: third ?? null, type };
    }
    case 'IFS': {
      const cases: { condition: Checked; value: Checked }[] = [];
      for (let i = 0; i < list.length; i += 2) {
        if (!checker.want('boolean', list[i]!, trees[i]!, 'A condition of IFS')) return null;
        cases.push({ condition: list[i]!, value: list[i + 1]! });
      }
      return chain(cases, MISSING);
    }
    case 'SWITCH': {
      return bound(first, (left) => {
        const cases: { condition: Checked; value: Checked }[] = [];
        for (let i = 1; i + 1 < list.length; i += 2)
          cases.push({ condition: binary('=', left, list[i]!), value: list[i + 1]! });
        return chain(cases, list.length % 2 === 0 ? list.at(-1)! : MISSING);
      });
    }
    case 'CHOOSE': {
      if (!checker.want('number', first, trees[0]!, 'The place in CHOOSE')) return null;
      return bound({ kind: 'call', name: 'INT', arguments: [first], type: 'number' }, (place) => {
        const cases = list.slice(1).map((value, i) => ({
          condition: binary('=', place, { kind: 'literal', value: i + 1, type: 'number' }),
          value,
        }));
        return chain(cases, MISSING);
      });
    }
    case 'IFERROR':
    case 'IFNA':
      return {
        kind: 'iferror',
        value: first,
        otherwise: second,
        missing: name === 'IFNA',
        type: commonType([first, second]),
      };
    case 'ISERROR':
      return { kind: 'iserror', value: first, type: 'boolean' };
    case 'WITHIN':
      return within(checker, first, second, trees);
    case 'TEXT':
      if (!checker.want('text', second, trees[1]!, 'The format of TEXT')) return null;
      return { kind: 'text', value: first, pattern: second, type: 'text' };
    case 'LABELOF':
      return labelOf(first);
    default:
      return name satisfies never;
  }
};

const call = (name: string, list: Checked[]): Checked => ({ kind: 'call', name, arguments: list, type: 'boolean' });

const binary = (operator: '>=' | '<=' | '<' | '=', left: Checked, right: Checked): Checked => ({
  kind: 'binary',
  operator,
  left,
  right,
  type: 'boolean',
});

const isTemporal = ({ type }: Checked): boolean => type === 'date' || type === 'datetime';

/** The label of the choice that a value is; the value where it is none of them. */
const labelOf = (value: Checked): Checked => {
  if (value.kind !== 'field' && value.kind !== 'parameter') return value;
  const { choices = [] } = value;
  const cases = choices.flatMap((choice) => {
    const condition = means(value, choice.value);
    return condition ? [{ condition, value: { kind: 'literal', value: choice.label, type: 'text' } as const }] : [];
  });
  return cases.length === 0 ? value : chain(cases, value);
};

/** Whether a value is what a choice writes; null where it never can be. Codes that differ in capitals alone are two. */
const means = (value: Checked, written: string): Checked | null => {
  if (value.type === 'text') return call('EXACT', [value, { kind: 'literal', value: written, type: 'text' }]);
  const number = value.type === 'number' ? parseNumeric(written) : null;
  const isTrue = value.type === 'boolean' ? /^(true|1)$/i.test(written) : null;
  if (number === null && isTrue === null) return null;
  const holds: Checked =
    number !== null
      ? binary('=', value, { kind: 'literal', value: number, type: 'number' })
      : isTrue
        ? value
        : call('NOT', [value]);
  // A blank is equal to nothing and to FALSE, and means neither.
  return call('AND', [call('NOT', [call('ISBLANK', [value])]), holds]);
};

/** A parameter without a value asks for everything; of a range, each end does so for itself. */
const within = (checker: FormChecker, value: Checked, asked: Checked, trees: readonly Tree[]): Checked | null => {
  const open = (wanted: Checked, holds: Checked): Checked => call('OR', [call('ISBLANK', [wanted]), holds]);
  if (asked.kind === 'parameter' && asked.range) {
    if (!isTemporal(value)) {
      checker.want('temporal', value, trees[0]!, 'WITHIN');
      return null;
    }
    const end = (name: 'from' | 'to'): Checked => ({
      kind: 'parameter',
      name: `${asked.name}.${name}`,
      type: asked.range!,
    });
    const [from, to] = [end('from'), end('to')];
    // A moment falls on a day by the report's zone.
    const day: Checked = { kind: 'literal', value: 'day', type: 'text' };
    const own: Checked =
      asked.range === 'date' && value.type === 'datetime'
        ? { kind: 'call', name: 'PERIOD', arguments: [value, day], type: 'date' }
        : value;
    // The last day of a range counts; a stretch of time ends before its end.
    const before = asked.range === 'date' ? '<=' : '<';
    return bound(own, (read) =>
      call('AND', [open(from, binary('>=', read, from)), open(to, binary(before, read, to))]),
    );
  }
  if (asked.type === 'list') {
    const of = asked.kind === 'parameter' ? asked.of : undefined;
    if (of && value.type !== 'any' && of !== value.type) {
      checker.want(of === 'number' ? 'number' : value.type, of === 'number' ? value : asked, trees[0]!, 'WITHIN');
      return null;
    }
    return open(asked, call('ONEOF', [value, asked]));
  }
  if (!checker.comparable(value, asked, { operator: 'WITHIN', right: trees[1]! })) return null;
  return open(asked, binary('=', value, asked));
};
