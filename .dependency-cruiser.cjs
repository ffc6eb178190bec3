/** The one direction of imports: core <- output <- server <- cli, examples; core <- client <- web, cli; embed takes types of core alone. */
const TESTS = '\\.test(-support)?\\.tsx?$';

const only = (name, allowed) => ({
  name: `layer-${name}`,
  severity: 'error',
  // Tests may use the demo's data and models, through its entry, as what they are: a host's.
  from: { path: `^packages/${name}/src`, pathNot: TESTS },
  to: {
    path: '^(packages|examples|e2e|bench)/',
    pathNot: [`^packages/${name}/`, ...allowed.map((other) => `^packages/${other}/`)],
  },
});

/** A layer is a folder, or a name with the paths, inside `src`, of files that belong to it. */
const pathsOf = (layer) => (typeof layer === 'string' ? `${layer}/` : `(?:${layer.paths.join('|')})`);

/** Layers of a package from the lowest to the highest: each stands on those before it alone, types included. */
const layers = (name, list) =>
  list.slice(0, -1).map((layer, i) => ({
    name: `layers-of-${name}-${layer.name ?? layer}`,
    severity: 'error',
    from: { path: `^packages/${name}/src/${pathsOf(layer)}`, pathNot: TESTS },
    to: {
      path: `^packages/${name}/src/`,
      pathNot: list.slice(0, i + 1).map((lower) => `^packages/${name}/src/${pathsOf(lower)}`),
    },
  }));

/** The room of an item kind has files of several layers; which one goes by the name of the file. `record` holds those of all kinds. */
const withRooms = (name, files, record) => ({
  name,
  paths: [`${name}/`, ...files.map((file) => `items/[^/]+/${file}[.]ts`), ...(record ? [`items/${record}[.]ts`] : [])],
});

const CORE = [
  'base',
  'problems',
  'value',
  'embedding',
  'page',
  'text',
  'content',
  'chart',
  withRooms('definition', ['schema']),
  'formula',
  'model',
  'translation',
  'recipe',
  withRooms('data', ['plan'], 'plans'),
  'shape',
  // What is no schema, plan, list or edit says how it is laid out.
  withRooms('layout', ['(?!(?:schema|plan|list|edit)[.])[^/]+'], 'layouts'),
  withRooms('listing', ['list'], 'listings'),
  withRooms('edit', ['edit'], 'edits'),
  'sketch',
  'run',
  'explain',
  'delivery',
  'contract',
  'checking',
  'in-code',
];

const SERVER = [
  'base',
  'ipp',
  'stand-ins',
  'embedded',
  'secrets',
  'pages',
  'access',
  'connection',
  'model',
  'sql',
  'sources',
  'staging',
  'store',
  'rows',
  'catalogue',
  'recipes',
  'threads',
  'runs',
  'services',
  'deliveries',
  'http',
];

/** Files of a folder itself, without the folders inside it. */
const filesOf = (name, paths) => ({ name: name.replaceAll('/', '-'), paths });

const WEB = [
  'i18n',
  'api',
  'ui',
  'embed',
  'live',
  'parameters',
  'data',
  filesOf('designer/design', ['designer/design/']),
  filesOf('designer/formula', ['designer/formula/']),
  filesOf('designer/settings', ['designer/settings/']),
  filesOf('designer/items', ['designer/items/']),
  filesOf('designer/drawer', ['designer/drawer/']),
  filesOf('designer/queries', ['designer/queries/']),
  filesOf('designer/languages', ['designer/languages/']),
  filesOf('designer/commands', ['designer/commands/']),
  filesOf('designer/board', ['designer/board/']),
  filesOf('designer/live', ['designer/live/']),
  filesOf('designer/tray', ['designer/tray/']),
  filesOf('designer', ['designer/[^/]+$']),
  'start',
  'viewer',
  'sketch',
  'revisions',
  'house',
  'deliveries',
  'library',
  filesOf('application', ['[^/]+$']),
];

module.exports = {
  forbidden: [
    only('core', []),
    only('output', ['core']),
    only('server', ['core', 'output']),
    only('client', ['core']),
    only('web', ['core', 'client']),
    only('embed', ['core']),
    only('cli', ['core', 'output', 'server', 'client']),
    ...layers('core', CORE),
    ...layers('server', SERVER),
    ...layers('web', WEB),
    {
      name: 'core-does-no-io',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test(-support)?\\.m?[jt]s$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'examples-use-public-entries',
      comment: 'Examples are written as a customer would: from the packages’ entries only.',
      severity: 'error',
      from: { path: '^examples/' },
      to: { path: '^packages/[^/]+/src/(?!index\\.ts$|(?:in-code|stand-ins)/index\\.ts$)' },
    },
    {
      name: 'no-cycles',
      comment: 'No circle of files, types included.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    { name: 'known-packages-only', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '^numfmt$' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default', 'types'] },
  },
};
