import { API_ERRORS } from '../base/api-error.ts';

interface Operation {
  summary: string;
  description: string;
  parameters: { name: string; in: 'path' | 'query'; required: boolean; schema: unknown }[];
  requestBody?: { content: Record<string, { schema: unknown }> };
  security: unknown[];
  responses: Record<string, { description?: string; content?: Record<string, { schema: unknown }> }>;
}

interface Described {
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, unknown> };
}

const escaped = (text: string): string => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** A schema as people read it: what refers to another leads to it. */
const schemaText = (schema: unknown): string =>
  escaped(JSON.stringify(schema, null, 2)).replace(
    /&#34;#\/components\/schemas\/(\w+)&#34;/g,
    (_, name: string) => `<a href="#schema-${name}">${name}</a>`,
  );

const folded = (title: string, schema: unknown): string =>
  `<details><summary>${escaped(title)}</summary><pre>${schemaText(schema)}</pre></details>`;

const typeOf = (schema: unknown): string => {
  const { type, enum: choices } = schema as { type?: string; enum?: string[] };
  return choices ? choices.join(' | ') : (type ?? 'any');
};

const parametersOf = ({ parameters }: Operation): string =>
  parameters.length === 0
    ? ''
    : `<table><tr><th>name</th><th>in</th><th>type</th></tr>${parameters
        .map(
          (one) =>
            `<tr><td><code>${escaped(one.name)}</code>${one.required ? '' : ' (may be left out)'}</td><td>${one.in}</td><td>${escaped(typeOf(one.schema))}</td></tr>`,
        )
        .join('')}</table>`;

/** Where a call stands on the page. */
const idOf = (method: string, path: string): string => `${method}-${path}`.replace(/[^a-z]+/gi, '-');

const operationText = (method: string, path: string, operation: Operation): string => {
  const bodies = Object.entries(operation.requestBody?.content ?? {}).map(([mime, { schema }]) =>
    folded(`Takes ${mime}`, schema),
  );
  const answers = Object.entries(operation.responses)
    .filter(([status]) => status !== 'default')
    .map(([status, { description = '', content = {} }]) => {
      const [first] = Object.entries(content);
      return first
        ? folded(`Answers ${status}, ${first[0]}`, first[1].schema)
        : `<p>Answers ${status}. ${escaped(description)}</p>`;
    });
  const open = operation.security.length === 0 ? ' Needs no token.' : '';
  return `<section id="${idOf(method, path)}"><h2><b>${method.toUpperCase()}</b> <code>${escaped(path)}</code></h2>
<p>${escaped(operation.description)}${open}</p>${parametersOf(operation)}${bodies.join('')}${answers.join('')}</section>`;
};

/** The API’s description as one page, without scripts: every call, body, answer and error. */
export const apiPage = (description: object): string => {
  const { paths, components } = description as Described;
  const operations = Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ method, path, operation })),
  );
  const errors = Object.entries(API_ERRORS).map(
    ([code, { status, title, detail }]) =>
      `<tr><td><code>${code}</code></td><td>${status}</td><td>${escaped(title)}</td><td>${escaped(detail)}</td></tr>`,
  );
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Gaveta: the API</title>
<style>
  body { margin: 0 auto; padding: 24px 20px 80px; max-width: 900px; font: 15px/1.5 system-ui, sans-serif; color: #1f2a2e; background: #fbf8f1 }
  h1 { font-size: 24px } h2 { margin: 36px 0 4px; font-size: 17px; font-weight: 400 } h2 b { color: #1f5c4d }
  a { color: #1f5c4d } code, pre { font: 13px/1.5 ui-monospace, monospace }
  pre { overflow: auto; max-height: 420px; padding: 10px 12px; background: #fffdf8; border: 1px solid #d9d1bd; border-radius: 4px }
  details { margin: 6px 0 } summary { cursor: pointer }
  table { border-collapse: collapse; margin: 8px 0 } th, td { padding: 3px 14px 3px 0; text-align: left; vertical-align: top; border-bottom: 1px solid #e8e2d3 }
  nav ul { columns: 2; padding: 0; list-style: none; font: 13px/1.8 ui-monospace, monospace }
  th { font-weight: 600; color: #55605f }
</style>
<h1>The API</h1>
<p>JSON over HTTP. Calls carry a token, <code>Authorization: Bearer …</code>, which the host’s server signs; a page with the host’s own session
needs none. Also as <a href="openapi.json">OpenAPI 3.1</a>, and in TypeScript by the package <code>@gaveta/client</code>.</p>
<nav><ul>${operations
    .map(({ method, path }) => `<li><a href="#${idOf(method, path)}">${method.toUpperCase()} ${escaped(path)}</a></li>`)
    .join('')}</ul></nav>
${operations.map(({ method, path, operation }) => operationText(method, path, operation)).join('\n')}
<h1>Errors</h1>
<p>Each is a problem document (RFC 9457) with its <code>code</code>, and in <code>data</code> what stands in braces.</p>
<table><tr><th>code</th><th>status</th><th>title</th><th>words</th></tr>${errors.join('')}</table>
<h1>Parts of schemas</h1>
${Object.entries(components.schemas)
  .map(([name, schema]) => `<h2 id="schema-${name}"><code>${name}</code></h2>${folded('Schema', schema)}`)
  .join('\n')}
</html>`;
};
