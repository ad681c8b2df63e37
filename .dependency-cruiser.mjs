const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  comment: `${from} may depend on ${allowed.join(', ') || 'nothing else'} only.`,
  // Tests start real engines and databases with the project's own scripts.
  from: { path: `^${from}/`, pathNot: '(\\.test\\.ts$|/testing/)' },
  to: {
    path: '^(app|ui|core|engine|store|demo|cli|bench|e2e|scripts)/',
    pathNot: `^(${[from, ...allowed].join('|')})/`,
  },
});

export default {
  forbidden: [
    only('core-alone', 'core', []),
    only('ui-on-core', 'ui', ['core']),
    only('store-on-core', 'store', ['core']),
    only('engine-on-core-and-store', 'engine', ['core', 'store']),
    only('app-thin', 'app', ['ui', 'core']),
    {
      name: 'app-keeps-sessions-only',
      severity: 'error',
      comment:
        'The web process shows and authorises: everything else is asked of an engine, or told to it as a command.',
      from: { path: '^app/', pathNot: '(\\.test\\.ts$|/testing/)' },
      to: { path: '^store/', pathNot: '^store/sessions\\.ts$' },
    },
    only('demo-outside', 'demo', ['core', 'store']),
    only('cli-outside', 'cli', ['core', 'engine']),
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'core runs in a web worker too: no Node modules, no React, no Next.js, no Drizzle.',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-without-frameworks',
      severity: 'error',
      from: { path: '^core/' },
      to: { path: 'node_modules/(react|next|drizzle-orm|mysql2|fastify|piscina)' },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.json'],
    },
  },
};
