import { writeFileSync } from 'node:fs';
import {
  FUNCTION_GROUPS,
  type FunctionDefinition,
  ROW_FUNCTIONS,
  SPECIAL_FORMS,
  signatureOf,
  TOTALS,
} from '@gaveta/core/internal';
import { z } from 'zod';
import type { Output } from '../packages/output/src/output.ts';
import { OUTPUTS } from '../packages/output/src/outputs.ts';
import { API_ERRORS } from '../packages/server/src/base/api-error.ts';
import { referencePage } from './reference.ts';

/** Pages that are made from the code, so that they cannot say anything else. A test holds them together. */
export const formulasPage = (): string => {
  const cell = (text: string): string => text.replace(/\|/g, '\\|');
  const code = (text: string): string => `\`${cell(text)}\``;
  const row = (signature: string, help: string, example: string): string =>
    `| ${code(signature)} | ${cell(help)} | ${code(example)} |`;
  const forms = Object.values(SPECIAL_FORMS).map((f) => row(f.signature, f.help, f.example));
  const sections = Object.entries(FUNCTION_GROUPS).map(([title, table]) => {
    const shown = Object.entries<FunctionDefinition>(table).filter(([, { isHidden }]) => !isHidden);
    const rows = shown.map(([name, f]) => row(signatureOf(name, f), f.help, f.example));
    const all = title === 'Logic' ? [...forms, ...rows] : rows;
    return `### ${title}\n| function | what it gives | example |\n| --- | --- | --- |\n${all.join('\n')}`;
  });
  const totals = Object.entries(TOTALS).map(([name, t]) => `| ${name} | ${cell(t.help)} | ${code(t.example)} |`);
  const ofRows = Object.values(ROW_FUNCTIONS).map((f) => `| ${code(f.signature)} | ${cell(f.help)} |`);
  return `# Formulas

Formulas follow the open spreadsheet formula standard (OASIS OpenFormula): its function names, operators and error values.
\`;\` separates arguments, and \`,\` is taken for it. A leading \`=\` is allowed. Text stands in double quotes; a name with
spaces stands in single quotes.

## Names
- A field by its name: \`amount\`. Along a relation to one row: \`member.name\`. Of a drawer around: \`hut.name\`.
- A calculated field of a drawer, and the value of a group, by their names.
- A parameter by its name: \`season\`, or \`parameters.season\` where a field has the same name.
- \`page.number\` and \`page.count\`; \`page.part_number\` and \`page.part_count\` since the numbering last started anew;
  \`page.room\`, the millimetres left on the page; \`report.name\`, \`report.run_at\`.

## Numbers, blanks, lists
**Exact** means: sums, differences, products and whole powers keep every digit, so that a sum equals PostgreSQL's \`sum(numeric)\` to the last one. A
division or a root that does not end is rounded to 34 significant digits, of which 28 are shown; what is worked out with floating point (angles, logarithms,
loans) has the 15 digits that count. A number that was rounded knows it, and so does what is made of it: two numbers of which one was rounded are equal
where 28 digits agree, so that \`1/3+1/3+1/3 = 1\` is TRUE and \`INT(1/3*3)\` is 1. Exact numbers are equal only where all their digits are. Joined to a
text, a number shows at most 10 decimals, as a field without a format does.

A blank counts as 0 in arithmetic and as an empty text in joining; a comparison takes it for 0, empty text or FALSE. A blank date is before
and after nothing. A list is written \`{1;2;3}\`, or collected from rows by LIST. Errors are \`#VALUE!\`, \`#DIV/0!\`, \`#NAME?\`,
\`#N/A\`, \`#NUM!\` and \`#REF!\`; they pass through every function but IFERROR, IFNA, ISERROR and its kin.

## Texts, days and times
Texts are compared and sorted in one way everywhere, by the report's language: \`=\` and \`<\`, MATCH, LOOKUP, SWITCH and ONEOF, CONTAINS, criteria. Capitals do not
matter (\`"a" = "A"\`); EXACT tells them apart. Rows, SORTED, MIN and MAX put texts in the same order, small letters before the same capitals. A database
does this where it knows the language: those that sort as the Unicode root does; for others the rows are compared by Gaveta. An index on a text column
serves EXACT; for \`=\` it has to be one on \`lower(coalesce(column, '') collate "und-x-icu")\`. Groups, DISTINCT and COUNTDISTINCT tell texts apart by every letter.

Days may be added to a date or moment, also parts of a day (\`moment + 0.5\`), and one may be taken from another: by the clocks of the report's time zone, as
spreadsheets count, so that \`moment + 1\` is the same time on the next day. A date has no time of day; what is past it is cut off. HOURS counts hours that
really passed.

## How it is tested
The tables in \`packages/core/src/formula/standard\` hold 5,212 cases with the standard's results: 4,499 that follow from arithmetic and the calendar alone, worked
out without the engine beside them, and 713 by hand from the standard's text and from closed forms. \`npm test\` runs them all, with 15,000 formulas and formats made
up by chance. Before the formulas were held to the standard, 4,154 of the cases came out right; how many of each family stands in the third column. \`node
scripts/compare-formulas.mjs\` has LibreOffice Calc work out the same tables; on 2026-12-01:

| family | cases | right before | right now | LibreOffice Calc agrees | meant differences |
| --- | --- | --- | --- | --- | --- |
| Sums and products, divisions, powers | 820 | 690 | 820 | 820 | 0 |
| Rounding, multiples | 918 | 792 | 918 | 917 | 1 |
| Remainders | 460 | 460 | 460 | 457 | 3 |
| Comparisons, operators, conditions | 238 | 226 | 238 | 236 | 2 |
| Numbers, counting, angles | 256 | 97 | 256 | 253 | 3 |
| Lists, statistics, looking up | 605 | 444 | 605 | 603 | 2 |
| Dates and times | 1161 | 938 | 1161 | 1156 | 5 |
| Texts, what a value is | 556 | 507 | 556 | 548 | 8 |
| Loans and depreciation | 40 | 0 | 40 | 39 | 1 |
| Distributions and tests | 158 | 0 | 158 | 156 | 2 |

None is without a reason; the reasons stand in \`meant.tsv\`.

No formula runs away: brackets nest 64 deep at most, a text has at most 1,000,000 characters (past it: \`#VALUE!\`), a number
1,000 digits (past it: \`#NUM!\`), a formula 20,000 parts once its calculated fields are put in, and it works through
10,000,000 characters and list values (past it: \`#NUM!\`).

## Totals
A total takes the scope it stands in: in a drawer's header or footer all its rows under the current parent row; in a group's
header or footer the rows of the group; in a detail band the rows of the inner drawers of the current row; in the others band
the rows past the first N; in the report's header or footer everything; in a page's header or footer what lands on that page.
A second argument names a wider scope: a drawer around (its current row with all below it), a group, or \`report\`:
\`amount / SUM(amount; report)\` is a share of the whole. Blank values do not count. With a list, or with several values, the
same names work on those instead. An empty SUM or COUNT is 0, every other empty total is blank.

COUNTIF, SUMIF, AVERAGEIF and those for several criteria (COUNTIFS, SUMIFS …) are totals as well: of lists, or of the fields of rows, in the scope that they stand in or the
one that the last value names. \`SUMIFS(charge.amount; charge.kind; "bunk"; charge.quantity; ">1"; report)\` is a sum over the whole report. A database works them out with
the rows, unless a criterion has wildcards or is a text that is not written in the formula.

Functions of lists take the fields of rows as well, all values in the scope: \`LARGE(charge.amount; 2)\`, \`PERCENTILE(nights; 0.9; report)\`, \`CORREL(charge.quantity; charge.amount)\`,
where what is of one row stays together.

\`VALUEOF(course.title; course_id)\` is a field of the row of another table of the same model, whose key is a field of this row: as along a relation, where none is declared.
It is joined to the rows, in a database as in the workbench; no row is read twice.

A filter may use totals of inner drawers' rows (\`SUM(nights) > 500\`), a sort may too, and a group's order may use totals of
the group's rows.

| total | what it gives | example |
| --- | --- | --- |
${totals.join('\n')}

### Rows before and around
| function | what it gives |
| --- | --- |
${ofRows.join('\n')}

In a page footer \`RUNNING(amount)\` is what is carried forward to the next page, in a page header what was brought forward.

## Functions
All functions of the standard's small and medium groups that make sense without cell references are here, but those of bonds and treasury bills (ACCRINT, COUPDAYS, PRICE,
YIELD …). Functions over ranges of cells (OFFSET, DSUM …) and complex numbers, of its large group, are not.

${sections.join('\n\n')}
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

interface OptionSchema {
  description?: string;
  default?: unknown;
}

const outputRows = (output: Output): string => {
  const { properties = {} } = z.toJSONSchema(output.options, { io: 'input', unrepresentable: 'any' }) as {
    properties?: Record<string, OptionSchema>;
  };
  const options = Object.entries(properties).map(
    ([name, { description = '', default: given }]) =>
      `| \`${name}\` | ${given === undefined ? '' : `\`${String(given)}\``} | ${description.replace(/\|/g, '\\|')} |`,
  );
  const { name, label, extension } = output;
  return `### \`${name}\`: ${label} (.${extension})\n| option | unless told otherwise | |\n| --- | --- | --- |\n${options.join('\n')}`;
};

export const outputsPage = (): string => {
  const of = (takes: Output['takes']): string =>
    OUTPUTS.filter((output) => output.takes === takes)
      .map(outputRows)
      .join('\n\n');
  return `# Outputs

What a report can become. The viewer’s *Export* shows the same formats and options in words, remembers them for each person, and
tells how far a file is; a file that is given up is not made to its end. The designer’s *Run and export* opens it. The API gives them at
\`GET /runs/:id/files/:output?option=value\`, \`GET /outputs\` lists them with the JSON Schema of their options, and the command
line makes them with \`gaveta render REPORT --format NAME --option name=value\`; \`gaveta formats\` lists them. A host offers
fewer, or in another order, with \`createGaveta({ outputs: ['pdf', 'csv'] })\`. A file of a run that is not whole is refused unless
\`problems=allow\` is given.

Several formats at once are a zip: \`POST /runs/:id/files\` with \`{"files": [{"output": "pdf"}, {"output": "csv", "options": {…}}]}\`, or *Several
formats at once* in the viewer. The name of a file is a pattern, \`filename\` in each of these calls: \`{report}\`, \`{date}\` and \`{time}\` of the
run, and each parameter by its name, as \`{report} {season}\`. What is empty is left out with the space before it; a name that there is not is
refused with those that there are. On the command line each further \`--format\` is one more file of a zip, and \`--option csv.separator=tab\`
says for which of them an option is.

Reports are joined page after page, each under its title in the outline: runs that have ended with \`POST /joined-runs\`, on the command line by
naming several (\`gaveta render season-ledger stay-folio --title "For the office"\`), from code with \`gaveta.join\` ([embedding.md](embedding.md)).

A PDF is tagged unless told otherwise: headings from the outline, rows under captions as tables, crosstabs, lists, figures by their
descriptions, links, and what stands on every page as decoration. Without a password it says of itself that it keeps to PDF/A-2a, or with
attached data to PDF/A-3a, and to PDF/UA-1; Gaveta's own checks hold it to the rules that can be told by reading the file, and no
certified validator has been run here. A row without captions above it is read as a paragraph, since a table needs headers.
A picture without a description is decoration. Slides have one size, that of the first page: a larger page becomes as small. Page numbers that start anew are the file's page labels.

## Pages
Made from the pages of the run, as they are shown. \`from\` and \`to\` choose pages, 1-based and inclusive; a page alone is a file
by itself where several are a zip.

${of('pages')}

## Documents
Made from what the report shows before it is put on pages: texts before their lines are broken, the value behind each, tables,
pictures and charts. What the reader has closed is left out; in a workbook it is folded away.

- Texts side by side are the row of a table, and rows that follow one another with the same columns are one table, with its captions
  as headings that stand again on every page. A text of the outline is a heading of its level.
- Headers and footers of pages become those of the document, with the numbers that its program gives pages; what else is known on a
  page alone (the rows on it, what is carried forward) is left out, and so are backgrounds of pages.
- \`xlsx\`: cells are found from the edges of texts. A text that is one value is that value with its number format; a total (\`SUM\`,
  \`COUNT\`, \`AVERAGE\`, \`MIN\`, \`MAX\`) is the formula \`SUBTOTAL\` over the cells that it counts, and what is worked out from other numbers of
  its row by \`+ - * /\` and \`ROUND\` a formula over their cells, wherever those come to the same number; it is the number itself otherwise. Rows lie on as many levels of the outline as there are headings over them; captions stay in view and
  stand on every printed page. A sheet with more than 1,048,576 rows goes on in the next.
- \`docx\`: styles of the report are styles of the document, the list of contents is one that its program keeps up to date, and
  fonts come with it. A table has 63 columns at most.
- \`html\`: no scripts. With \`looks=inline\` and \`whole=false\` it is the body of a mail, with charts as PNG.
- \`markdown\` and \`text\` give the numbers of a chart as a table.

${of('content')}

## Rows
Made from the rows of the same run, which are kept beside its pages (\`keepRowBytes\`); what is too much to keep is read again. They
are what the report shows: with its filters, first rows, row scopes and conditions, and everything open that can be closed.

- Each drawer is a set of rows, with a column for each formula that its detail band shows: fields, texts with formulas in them, check
  marks, barcodes. What its groups show of a row stands in front. Pictures, drawings, and totals of groups and footers stay out.
- Drawers and nested reports inside a row are sets inside it.
- A crosstab, a chart, a map, and a gauge with rows of its own is a set too: a row for each of its innermost groups that has rows, with the
  values of the groups around it and its totals as exact numbers, in its order and cut as it is shown. One in the header or footer of a
  report or drawer stands beside the drawers, one in a row inside it. Those of groups, and sparklines, stay out.
- A column is called by the caption above it (its column set’s), else by its field’s label, else by the words before the formula or the
  formula itself. Its name for programs is that of the column, else of the field along its relations: \`hut_name\`.
- Numbers keep every digit, days and times are those of ISO 8601 (times of the world, with \`Z\`), a blank is something else than an
  empty text. In a workbook times are those of the report’s time zone.
- What a format cannot write is replaced by \uFFFD: halves of characters everywhere, control characters in XML.

${of('rows')}
`;
};

if (process.argv.includes('--write')) {
  writeFileSync('docs/outputs.md', outputsPage());
  writeFileSync('docs/formulas.md', formulasPage());
  writeFileSync('docs/errors.md', errorsPage());
  writeFileSync('docs/embedding-reference.md', referencePage());
}
