/** The one direction of imports: core <- output <- server <- cli, examples; core <- web; embed takes types of core alone. */
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

/** Folders of a package from the lowest to the highest: each stands on those before it alone, types included. */
const layers = (name, folders) =>
  folders.slice(0, -1).map((folder, i) => ({
    name: `layers-of-${name}-${folder}`,
    severity: 'error',
    from: { path: `^packages/${name}/src/${folder}/`, pathNot: TESTS },
    to: {
      path: `^packages/${name}/src/`,
      pathNot: folders.slice(0, i + 1).map((lower) => `^packages/${name}/src/${lower}/`),
    },
  }));

const CORE = [
  'value',
  'problems',
  'embedding',
  'page',
  'definition',
  'text',
  'formula',
  'model',
  'recipe',
  'data',
  'shape',
  'layout',
  'edit',
  'run',
];

const SERVER = [
  'embedded',
  'base',
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
  'http',
];

module.exports = {
  forbidden: [
    only('core', []),
    only('output', ['core']),
    only('server', ['core', 'output']),
    only('web', ['core']),
    only('embed', ['core']),
    only('cli', ['core', 'output', 'server']),
    ...layers('core', CORE),
    ...layers('server', SERVER),
    {
      name: 'core-does-no-io',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test(-support)?\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'examples-use-public-entries',
      comment: 'Examples are written as a customer would: from the packages’ entries only.',
      severity: 'error',
      from: { path: '^examples/' },
      to: { path: '^packages/[^/]+/src/(?!index\\.ts$)' },
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
