import type { Checker } from './check.ts';
import type { Checked, CheckedType } from './checked.ts';
import type { SpecialForm } from './functions/index.ts';
import type { FormulaScope } from './scope.ts';
import type { Tree } from './tree.ts';

const common = (list: readonly Checked[]): CheckedType => {
  const known = list.filter((c) => c.type !== 'any');
  return known.length > 0 && known.every((c) => c.type === known[0]!.type) ? known[0]!.type : 'any';
};

const MISSING: Checked = { kind: 'call', name: 'NA', arguments: [], type: 'any' };

/** `cases` from the last to the first, each behind its condition. */
const chain = (cases: readonly { condition: Checked; value: Checked }[], otherwise: Checked): Checked => {
  const type = common([...cases.map((c) => c.value), otherwise]);
  return cases.reduceRight<Checked>(
    (no, { condition, value }) => ({ kind: 'if', condition, yes: value, no, type }),
    otherwise,
  );
};

/** Checks a function that decides which of its arguments are worked out. */
export const checkForm = (
  checker: Checker,
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
    TEXT: [2, 2],
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
      const type = third ? common([second, third]) : second.type;
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
      const cases: { condition: Checked; value: Checked }[] = [];
      for (let i = 1; i + 1 < list.length; i += 2) {
        const condition: Checked = { kind: 'binary', operator: '=', left: first, right: list[i]!, type: 'boolean' };
        cases.push({ condition, value: list[i + 1]! });
      }
      return chain(cases, list.length % 2 === 0 ? list.at(-1)! : MISSING);
    }
    case 'CHOOSE': {
      if (!checker.want('number', first, trees[0]!, 'The place in CHOOSE')) return null;
      const place: Checked = { kind: 'call', name: 'INT', arguments: [first], type: 'number' };
      const cases = list.slice(1).map((value, i) => {
        const right: Checked = { kind: 'literal', value: i + 1, type: 'number' };
        const condition: Checked = { kind: 'binary', operator: '=', left: place, right, type: 'boolean' };
        return { condition, value };
      });
      return chain(cases, MISSING);
    }
    case 'IFERROR':
    case 'IFNA':
      return {
        kind: 'iferror',
        value: first,
        otherwise: second,
        missing: name === 'IFNA',
        type: common([first, second]),
      };
    case 'ISERROR':
      return { kind: 'iserror', value: first, type: 'boolean' };
    case 'TEXT':
      if (!checker.want('text', second, trees[1]!, 'The format of TEXT')) return null;
      return { kind: 'text', value: first, pattern: second, type: 'text' };
    default:
      return name satisfies never;
  }
};
