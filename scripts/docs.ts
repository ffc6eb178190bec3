import { writeFileSync } from 'node:fs';
import { FUNCTIONS, TOTALS } from '@gaveta/core';
import { API_ERRORS } from '../packages/server/src/http/errors.ts';

/** Pages that are made from the code, so that they cannot say anything else. A test holds them together. */
export const formulasPage = (): string => {
  const cell = (text: string): string => text.replace(/\|/g, '\\|');
  const functions = Object.entries(FUNCTIONS).map(
    ([name, f]) => `| ${name} | ${cell(f.help)} | \`${cell(f.example)}\` |`,
  );
  const totals = Object.entries(TOTALS).map(([name, t]) => `| ${name} | ${t.help} |`);
  return `# Formulas

Formulas follow the open spreadsheet formula standard (OASIS OpenFormula): its function names, operators and error values.
\`;\` separates arguments, and \`,\` is taken for it. A leading \`=\` is allowed. Text stands in double quotes; a name with
spaces stands in single quotes.

## Names
- A field by its name: \`amount\`. Along a relation to one row: \`member.name\`. Of a drawer around: \`hut.name\`.
- A parameter by its name: \`season\`, or \`parameters.season\` where a field has the same name.
- \`page.number\`, \`page.count\`, \`report.name\`, \`report.run_at\`.

## Numbers and blanks
Decimals are exact: a sum equals PostgreSQL's \`sum(numeric)\` to the last digit; a division keeps 34 digits. A blank counts
as 0 in arithmetic and as an empty text in joining; a comparison takes it for 0, empty text or FALSE. A blank date is before
and after nothing. Errors are \`#VALUE!\`, \`#DIV/0!\`, \`#NAME?\`, \`#N/A\`, \`#NUM!\` and \`#REF!\`; they pass through every function but IFERROR.

## Totals
A total takes the scope it stands in: in a drawer's header or footer all its rows under the current parent row, in a detail
band the rows of the inner drawers of the current row, in the report's header or footer everything. Blank values do not count.

| total | what it gives |
| --- | --- |
${totals.join('\n')}

## Functions
| function | what it gives | example |
| --- | --- | --- |
| IF | The second value when the condition holds, otherwise the third. | \`IF(1 < 2; "yes"; "no") = "yes"\` |
| IFERROR | The first value, or the second when the first is an error. | \`IFERROR(1 / 0; 5) = 5\` |
| TEXT | A value as text, by a number-format code. | \`TEXT(1234.5; "#,##0.00") = "1,234.50"\` |
${functions.join('\n')}
`;
};

export const errorsPage = (): string => {
  const rows = Object.entries(API_ERRORS).map(
    ([code, { status, title, detail }]) => `| \`${code}\` | ${status} | ${title} | ${detail} |`,
  );
  return `# Errors of the API

Each is answered as a problem document (RFC 9457, \`application/problem+json\`) with \`type\`, \`title\`, \`status\`, \`detail\`
and \`code\`. Problems of a definition or of parameters come in \`problems\`, each with its code, place and words.

| code | status | title | detail |
| --- | --- | --- | --- |
${rows.join('\n')}
`;
};

if (process.argv.includes('--write')) {
  writeFileSync('docs/formulas.md', formulasPage());
  writeFileSync('docs/errors.md', errorsPage());
}
