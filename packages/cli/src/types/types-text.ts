import { type Entity, type Model, type Parameter, shownFields } from '@gaveta/core/internal';

/** What types are written of. */
export interface Described {
  models: readonly Model[];
  reports: readonly { id: string; name: string; parameters: readonly Parameter[] }[];
}

const HEAD = `/**
 * Written by “gaveta types”: the shapes of data models, and the parameters of reports. Run it again when they change.
 */
`;

const quoted = (text: string): string => `'${text.replace(/[\\']/g, '\\$&').replace(/[\n\r\u2028\u2029]/g, ' ')}'`;

/** A name as the key of an object. */
const key = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : quoted(name));

const comment = (text: string, indent: string): string =>
  `${indent}/** ${text.replace(/\*\//g, '*').replace(/\s+/g, ' ')} */\n`;

/** Names that TypeScript keeps for itself. */
const RESERVED =
  /^(break|case|catch|class|const|continue|debugger|default|delete|do|else|enum|export|extends|false|finally|for|function|if|import|in|instanceof|new|null|return|super|switch|this|throw|true|try|typeof|var|void|while|with|let|static|yield|await|Reports|Model|typedModel)$/;

/** A name for a constant, of a model's. */
const constant = (name: string): string => (RESERVED.test(name) ? `${name}_` : name);

const shapeName = (name: string): string => `${name[0]!.toUpperCase()}${name.slice(1)}Shape`;

const entityText = ({ name, label, fields, relations }: Entity): string => {
  const lines = (list: readonly [string, string][]): string =>
    list.length === 0 ? '{}' : `{\n${list.map(([of, type]) => `      ${key(of)}: ${quoted(type)};\n`).join('')}    }`;
  const leads = (kind: 'one' | 'many'): string =>
    lines(relations.filter((one) => one.kind === kind).map((one) => [one.name, one.to]));
  return `${comment(label, '  ')}  ${key(name)}: {
    fields: ${lines(shownFields(fields).map((field) => [field.name, field.type]))};
    one: ${leads('one')};
    many: ${leads('many')};
  };
`;
};

/** A line for each entity, so that a comparison of the file shows which one changed. */
const modelJson = ({ entities, ...model }: Model): string => {
  const head = JSON.stringify(model).replace(/\}$/, '');
  return `${head},"entities":[\n${entities.map((entity) => `  ${JSON.stringify(entity)}`).join(',\n')}\n]}`;
};

const modelText = (model: Model): string => {
  const shape = shapeName(model.name);
  return `
export interface ${shape} {
${model.entities.map(entityText).join('')}}

${comment(`${model.label}: for \`report('…', ${constant(model.name)})\` of @gaveta/core/in-code.`, '')}export const ${constant(model.name)} = typedModel<${shape}>(${modelJson(model)});
`;
};

/** What a parameter is given, in code: dates as \`2025-07-12\`, ranges as \`2025-06-01..2025-09-30\`. */
const parameterType = ({ type, of = 'text', choices }: Parameter): string => {
  const one =
    of === 'number' ? 'number' : choices?.length ? choices.map(({ value }) => quoted(value)).join(' | ') : 'string';
  switch (type) {
    case 'text':
    case 'date':
    case 'dates':
    case 'window':
      return 'string';
    case 'number':
      return 'number';
    case 'boolean':
      return 'boolean';
    case 'choice':
      return one;
    case 'choices':
      return one.includes(' ') ? `(${one})[]` : `${one}[]`;
    default:
      return type satisfies never;
  }
};

const parameterText = (parameter: Parameter): string => {
  const { name, label, help, type, required, fromHost } = parameter;
  // What the host's server sets in its token is nobody else's to give.
  if (fromHost) return '';
  const hasDefault = parameter.default !== undefined || parameter.defaultFormula !== undefined;
  const form =
    { date: ' (as 2025-07-12)', dates: ' (as 2025-06-01..2025-09-30)', window: ' (as 2025-06-01..2025-09-30)' }[
      type as string
    ] ?? '';
  const words = `${label}${form}${help ? `: ${help}` : ''}`;
  return `${comment(words, '    ')}    ${key(name)}${required && !hasDefault ? '' : '?'}: ${parameterType(parameter)};\n`;
};

const reportText = ({ id, name, parameters }: Described['reports'][number]): string => {
  const given = parameters.map(parameterText).join('');
  return `${comment(name, '  ')}  ${key(id)}: {${given === '' ? '' : `\n${given}  `}};\n`;
};

/** A TypeScript module with the shapes of models, and the parameters of reports by their ids. */
export const typesText = ({ models, reports }: Described): string => `${HEAD}
import { typedModel } from '@gaveta/core/in-code';
${models.map(modelText).join('')}
/** Values of the parameters of each report, by its id: \`new GavetaClient<Reports>(…)\` checks them. */
export interface Reports {
${reports.map(reportText).join('')}}
`;
