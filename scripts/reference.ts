import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';

const root = join(import.meta.dirname, '..', 'packages');

const read = (file: string): ts.SourceFile =>
  ts.createSourceFile(file, readFileSync(join(root, file), 'utf8'), ts.ScriptTarget.Latest, true);

const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
const cell = (text: string): string => oneLine(text).replace(/\|/g, '\\|');
const code = (text: string): string => `\`${cell(text)}\``;

/** What a docstring says, without its links’ braces. */
const saidOf = (node: ts.Node): string => {
  const [doc] = ts.getJSDocCommentsAndTags(node).filter(ts.isJSDoc);
  const text = doc ? (ts.getTextOfJSDocComment(doc.comment) ?? '') : '';
  return cell(text.replace(/\{@link\s+([^}]+)\}/g, '`$1`'));
};

const find = <T extends ts.Node>(source: ts.SourceFile, name: string, is: (node: ts.Node) => node is T): T => {
  const found = source.statements.find(
    (node) => is(node) && (node as unknown as { name: ts.Identifier }).name?.text === name,
  );
  if (!found) throw new Error(`${source.fileName} has no ${name}`);
  return found as unknown as T;
};

type Member = ts.TypeElement | ts.ClassElement;

/** A line for each member: its name, its type, and what its docstring says. */
const rowsOf = (source: ts.SourceFile, members: readonly Member[]): string[] =>
  members.flatMap((member) => {
    if (!member.name) return [];
    const name = member.name.getText(source).replace(/^'|'$/g, '');
    const optional = 'questionToken' in member && member.questionToken ? '?' : '';
    if (ts.isMethodSignature(member) || ts.isMethodDeclaration(member)) {
      const given = member.parameters.map((one) => oneLine(one.getText(source)).replace(/ = \{\}$/, '')).join(', ');
      const gives = member.type ? `: ${member.type.getText(source)}` : '';
      return [`| ${code(`${name}${optional}(${given})${gives}`)} | ${saidOf(member)} |`];
    }
    const type = (member as ts.PropertySignature).type?.getText(source) ?? '';
    return [`| ${code(`${name}${optional}${type ? `: ${type}` : ''}`)} | ${saidOf(member)} |`];
  });

const table = (head: string, rows: readonly string[]): string =>
  `| ${head} | what it is |\n| --- | --- |\n${rows.join('\n')}`;

const interfaceTable = (file: string, name: string, head = name): string => {
  const source = read(file);
  return table(head, rowsOf(source, find(source, name, ts.isInterfaceDeclaration).members));
};

const isPublic = (member: ts.ClassElement): boolean => {
  const modifiers = ts.canHaveModifiers(member) ? (ts.getModifiers(member) ?? []) : [];
  const hidden = [ts.SyntaxKind.PrivateKeyword, ts.SyntaxKind.ProtectedKeyword, ts.SyntaxKind.StaticKeyword];
  const isDeclared = modifiers.some(({ kind }) => kind === ts.SyntaxKind.DeclareKeyword);
  return !isDeclared && !modifiers.some(({ kind }) => hidden.includes(kind)) && !ts.isSetAccessor(member);
};

/** Properties and methods that code may use, without what a browser calls. */
const classRows = (file: string, name: string): string[] => {
  const source = read(file);
  const { members } = find(source, name, ts.isClassDeclaration);
  const own = members.filter(
    (member) =>
      isPublic(member) &&
      !ts.isConstructorDeclaration(member) &&
      !/Callback$/.test(member.name?.getText(source) ?? 'Callback'),
  );
  return rowsOf(source, own);
};

/** The values of a list of texts that is written out in a file. */
const listOf = (file: string, name: string): string[] => {
  const source = read(file);
  const statement = source.statements
    .filter(ts.isVariableStatement)
    .flatMap((s) => [...s.declarationList.declarations]);
  const found = statement.find((one) => one.name.getText(source) === name)?.initializer;
  const list = found && ts.isAsExpression(found) ? found.expression : found;
  if (!list || !ts.isArrayLiteralExpression(list)) throw new Error(`${file} has no list ${name}`);
  return list.elements.map((one) => (one as ts.StringLiteral).text);
};

/** Everything that a host can say and hear, from the types themselves. */
export const referencePage = (): string => `# Reference for embedding

Made from the types (\`npm run docs\`). [embedding.md](embedding.md) tells how things are used.

## createGaveta
${interfaceTable('server/src/options.ts', 'GavetaOptions', 'option')}

A theme, for \`themes\`:

${interfaceTable('core/src/edit/own-themes.ts', 'OwnTheme', 'of a theme')}

What a module in \`modules\` exports by default:

${interfaceTable('output/src/equipment.ts', 'Addition', 'of a module')}

A function that it adds:

${interfaceTable('core/src/formula/functions/added.ts', 'AddedFunction', 'of a function')}

createGaveta gives:

${interfaceTable('server/src/gaveta.ts', 'Gaveta', 'of what it gives')}

## Hooks
${interfaceTable('server/src/services/gate.ts', 'Hooks', 'hook')}

A run that is about to start:

${interfaceTable('server/src/services/gate.ts', 'RunToStart', 'of the run')}

What \`beforeRun\` may give:

${interfaceTable('server/src/services/gate.ts', 'RunChanges', 'change')}

A run that has ended:

${interfaceTable('server/src/services/gate.ts', 'EndedRun', 'of the run')}

## In code
\`gaveta.render(report, options)\`:

${interfaceTable('server/src/services/render.ts', 'RenderOptions', 'option')}

gives:

${interfaceTable('server/src/services/render.ts', 'Rendered', 'of the file')}

\`gaveta.reports\`:

${interfaceTable('server/src/services/in-code.ts', 'ReportsInCode', 'method')}

\`gaveta.runs.start(report, options)\` gives:

${interfaceTable('server/src/services/in-code.ts', 'RunInCode', 'of the run')}

## Elements
Attributes of all of them:

${interfaceTable('embed/src/frameworks/attributes.ts', 'GavetaAttributes', 'attribute')}

Properties and methods of all of them:

${table('property or method', classRows('embed/src/element.ts', 'GavetaElement'))}

Of \`<gaveta-viewer>\` and \`<gaveta-export-button>\`:

${table('method', [...classRows('embed/src/viewer.ts', 'GavetaViewer'), ...classRows('embed/src/export-button.ts', 'GavetaExportButton')])}

Of \`<gaveta-designer>\`:

${table('method', classRows('embed/src/viewer.ts', 'GavetaDesigner'))}

Events, with what their \`detail\` holds:

${interfaceTable('core/src/embedding/messages.ts', 'FrameEvents', 'event')}

Parts that \`hide\` leaves out: ${listOf('core/src/embedding/messages.ts', 'PARTS').map(code).join(', ')}.

CSS custom properties of an element: ${listOf('core/src/embedding/messages.ts', 'LOOK_TOKENS')
  .map((token) => code(`--gaveta-${token}`))
  .join(', ')}.

## React
Properties of \`Viewer\`, \`Designer\`, \`Library\` and \`ExportButton\` of \`@gaveta/embed/react\`; a \`ref\` has the methods of the element:

${interfaceTable('embed/src/react.tsx', 'EmbedProps', 'property')}
`;
