import type { LookToken, Part, TRIED_RIGHTS } from '@gaveta/core/internal';

export const ELEMENTS = ['viewer', 'designer', 'library', 'export-button'] as const;
export type ElementKind = (typeof ELEMENTS)[number];

/** What is tried in the playground. */
export interface Trial {
  element: ElementKind;
  /** Id; null for the list of reports. */
  report: string | null;
  hide: readonly Part[];
  isAutoHeight: boolean;
  /** Of the interface; null: what the reader’s browser prefers. */
  language: string | null;
  look: Readonly<Partial<Record<LookToken, string>>>;
  rights: readonly (typeof TRIED_RIGHTS)[number][];
}

/** Attributes of the element as they are written. */
export const attributesOf = ({ element, report, hide, isAutoHeight, language }: Trial): Record<string, string> => ({
  ...(report !== null && element !== 'library' ? { report } : {}),
  ...(element === 'export-button' ? { format: 'pdf' } : {}),
  ...(hide.length > 0 && element !== 'export-button' ? { hide: hide.join(' ') } : {}),
  ...(isAutoHeight && element === 'viewer' ? { height: 'auto' } : {}),
  ...(language ? { language } : {}),
});

const escaped = (text: string): string => text.replace(/&/g, '&amp;').replace(/"/g, '&quot;').replace(/</g, '&lt;');

/** The element’s style: its height where its content does not give it, and its look. */
export const styleOf = ({ element, isAutoHeight, look }: Trial): Record<string, string> => ({
  ...(element === 'export-button' || (isAutoHeight && element === 'viewer') ? {} : { height: '90vh' }),
  ...Object.fromEntries(Object.entries(look).map(([token, value]) => [`--gaveta-${token}`, value])),
});

/** A plain page. `base`: Gaveta’s address, which ends with a slash. */
export const pageCode = (trial: Trial, base: string): string => {
  const style = Object.entries(styleOf(trial)).map(([name, value]) => `${name}: ${value}`);
  const attributes = {
    ...attributesOf(trial),
    'token-url': '/token',
    ...(style.length > 0 ? { style: style.join('; ') } : {}),
  };
  const written = Object.entries(attributes).map(([name, value]) => `\n  ${name}="${escaped(value)}"`);
  const tag = `gaveta-${trial.element}`;
  const label = trial.element === 'export-button' ? 'PDF' : '';
  return `<script type="module" src="${escaped(base)}embed.js"></script>\n\n<${tag}${written.join('')}\n>${label}</${tag}>\n`;
};

const COMPONENTS: Readonly<Record<ElementKind, string>> = {
  viewer: 'Viewer',
  designer: 'Designer',
  library: 'Library',
  'export-button': 'ExportButton',
};

const text = (value: string): string => `'${value.replace(/[\\']/g, '\\$&')}'`;

/** A component of React. */
export const reactCode = (trial: Trial, base: string): string => {
  const component = COMPONENTS[trial.element];
  const { report, hide, height, language, format } = attributesOf(trial);
  const style = Object.entries(styleOf(trial)).map(
    ([name, value]) => `${/^\w+$/.test(name) ? name : text(name)}: ${text(value)}`,
  );
  const props = [
    `server=${JSON.stringify(base)}`,
    ...(report === undefined ? [] : [`report=${JSON.stringify(report)}`]),
    ...(format === undefined ? [] : [`format=${JSON.stringify(format)}`]),
    'fetchToken={fetchToken}',
    ...(hide === undefined ? [] : [`hide={[${hide.split(' ').map(text).join(', ')}]}`]),
    ...(height === undefined ? [] : ['height="auto"']),
    ...(language === undefined ? [] : [`language=${JSON.stringify(language)}`]),
    ...(style.length > 0
      ? [`style={{ ${style.join(', ')} }${Object.keys(trial.look).length > 0 ? ' as CSSProperties' : ''}}`]
      : []),
  ];
  const inner = trial.element === 'export-button' ? `>\n    PDF\n  </${component}>` : '/>';
  return `import { ${component} } from '@gaveta/embed/react';
${Object.keys(trial.look).length > 0 ? "import type { CSSProperties } from 'react';\n" : ''}
const fetchToken = async () => {
  const { token } = await (await fetch('/token')).json();
  return token;
};

export const Report = () => (
  <${component}
${props.map((prop) => `    ${prop}\n`).join('')}  ${inner}
);
`;
};

/** The route of the host’s server that hands out tokens. */
export const serverCode = ({ rights }: Trial): string => `import { signToken } from '@gaveta/server';

app.get('/token', async (request, response) => {
  // Who is signed in to your application, and the claims that row scopes read.
  const session = {
    user: request.signedInUser.name,
    rights: [${rights.map(text).join(', ')}],
    claims: {},
  };
  response.json({ token: await signToken(process.env.GAVETA_SECRET, session) });
});
`;
