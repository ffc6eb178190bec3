import { CalendarDate, type Checked, type CheckedType, Moment, parseNumeric, type Value } from '@gaveta/core/internal';
import type { Claim, Claims } from '../access/claims.ts';

/** What a claim was to be compared with, where it did not fit or was missing. */
export type UnfitClaim = { claim: string; wanted: CheckedType };

/** A claim as a value of the type that it is compared with; undefined when it is none of that type. */
const claimValue = (claim: string | number | boolean, wanted: CheckedType): Exclude<Value, null> | undefined => {
  switch (wanted) {
    case 'number':
      return typeof claim === 'boolean' ? undefined : (parseNumeric(String(claim).trim()) ?? undefined);
    case 'boolean':
      return typeof claim === 'boolean' ? claim : undefined;
    case 'date':
      return CalendarDate.parse(String(claim)) ?? undefined;
    case 'datetime':
      return Moment.parse(String(claim)) ?? undefined;
    case 'text':
    case 'any':
      return typeof claim === 'boolean' ? undefined : String(claim);
    case 'picture':
    case 'list':
      return undefined;
    default:
      return wanted satisfies never;
  }
};

/** Thrown inside for a claim that does not fit; it never leaves this file. */
class Unfit {
  constructor(readonly claim: UnfitClaim) {}
}

const call = (name: string, list: Checked[]): Checked => ({ kind: 'call', name, arguments: list, type: 'boolean' });

const literal = (value: Exclude<Value, null>, type: CheckedType): Checked =>
  typeof value === 'boolean' ? call(value ? 'TRUE' : 'FALSE', []) : ({ kind: 'literal', value, type } as Checked);

/**
 * A row scope’s formula with the caller’s claims put in. What a claim is compared with says which type it must be of; one
 * that is missing or of another type keeps every row away, and so does a row whose own value is blank. A list of values
 * stands for any of them.
 */
export const withClaims = (formula: Checked, claims: Claims): { formula: Checked } | { unfit: UnfitClaim } => {
  const valuesOf = (name: string, wanted: CheckedType): Checked[] => {
    const claim: Claim | undefined = Object.hasOwn(claims, name) ? claims[name] : undefined;
    // One that is null says nothing, and lets nobody see anything.
    if (claim === undefined || claim === null) throw new Unfit({ claim: name, wanted });
    const type = wanted === 'any' ? 'text' : wanted;
    return (Array.isArray(claim) ? claim : [claim]).map((one: string | number | boolean) => {
      const value = claimValue(one, type);
      if (value === undefined) throw new Unfit({ claim: name, wanted });
      return literal(value, type);
    });
  };
  const single = (name: string, wanted: CheckedType): Checked => {
    const [value, ...others] = valuesOf(name, wanted);
    if (!value || others.length > 0) throw new Unfit({ claim: name, wanted });
    return value;
  };
  const put = (node: Checked, wanted: CheckedType): Checked => {
    switch (node.kind) {
      case 'claim':
        return single(node.name, wanted);
      case 'binary': {
        const { left, right, operator } = node;
        const types = [
          left.type === 'any' ? right.type : left.type,
          right.type === 'any' ? left.type : right.type,
        ] as const;
        const claim = left.kind === 'claim' ? left : right.kind === 'claim' ? right : null;
        const other = claim === left ? right : left;
        if (operator === '=' && claim && other.kind !== 'claim') {
          const given = put(other, types[0]);
          const choices = valuesOf(claim.name, types[0]);
          const equal: Checked =
            choices.length === 0
              ? call('FALSE', [])
              : choices.length === 1
                ? { kind: 'binary', operator: '=', left: given, right: choices[0]!, type: 'boolean' }
                : call('ONEOF', [given, ...choices]);
          // A blank equals 0 and an empty text in formulas; here it belongs to nobody.
          return call('AND', [call('NOT', [call('ISBLANK', [given])]), equal]);
        }
        return { ...node, left: put(left, types[0]), right: put(right, types[1]) };
      }
      case 'call': {
        const [first] = node.arguments;
        if (node.name === 'ONEOF' && first) {
          const given = put(first, first.type);
          const choices = node.arguments
            .slice(1)
            .flatMap((choice) =>
              choice.kind === 'claim' ? valuesOf(choice.name, first.type) : [put(choice, first.type)],
            );
          return choices.length === 0 ? call('FALSE', []) : { ...node, arguments: [given, ...choices] };
        }
        return { ...node, arguments: node.arguments.map((a) => put(a, a.type)) };
      }
      case 'unary':
        return { ...node, operand: put(node.operand, node.operand.type) };
      case 'if':
        return {
          ...node,
          condition: put(node.condition, 'boolean'),
          yes: put(node.yes, node.type),
          no: node.no && put(node.no, node.type),
        };
      case 'iferror':
        return { ...node, value: put(node.value, node.type), otherwise: put(node.otherwise, node.type) };
      case 'iserror':
        return { ...node, value: put(node.value, node.value.type) };
      case 'text':
        return { ...node, value: put(node.value, node.value.type), pattern: put(node.pattern, 'text') };
      case 'list':
      case 'tuple':
        return { ...node, items: node.items.map((item) => put(item, item.type)) };
      case 'aggregate':
        return { ...node, arguments: node.arguments.map((a) => put(a, a.type)) };
      case 'bind':
        return { ...node, value: put(node.value, node.value.type), body: put(node.body, node.type) };
      case 'bound':
      case 'literal':
      case 'field':
      case 'rows':
      case 'parameter':
      case 'page':
      case 'report':
      case 'total':
      case 'previous':
        return node;
      default:
        return node satisfies never;
    }
  };
  try {
    return { formula: put(formula, formula.type) };
  } catch (error) {
    if (error instanceof Unfit) return { unfit: error.claim };
    throw error;
  }
};
