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

/** Folders of a part of the project by floors, each from the bottom up: a folder may depend on those before it only. */
const floors = {
  core: {
    // What events are, and what can be asked of them.
    ground: [
      ...['patterns', 'events', 'input', 'conditions', 'formats', 'tables', 'places', 'expressions'],
      ...['templates', 'sketches', 'tape', 'segments', 'shapes', 'summaries'],
    ],
    // What is done with them, whatever plan says so.
    domain: [
      'masks',
      'steps',
      'pipelines',
      'metrics',
      'talkers',
      'routing',
      'health',
      'fields',
      'costs',
      'arrivals',
      'exports',
      'why',
      'usage',
    ],
    // The document that says what is done with them.
    document: ['plan'],
    // What runs and compares plans.
    runs: ['consumers', 'search', 'rehearsal'],
    // What people and programs ask.
    answers: ['answers', 'views', 'suggestions', 'operations', 'kits'],
  },
  engine: {
    ground: ['base', 'deliveries', 'watches', 'cluster', 'learning'],
    stream: ['health', 'sources', 'plan', 'talkers', 'workers', 'measures', 'outgoing', 'arrivals', 'intake', 'commit'],
    work: ['metrics', 'compaction', 'retention', 'outlets', 'shapes', 'reprocessing', 'costs', 'demo'],
    answers: ['usage', 'search', 'operations', 'api'],
    // What an engine does again and again.
    turns: ['rounds'],
    // What it is put together from, and what it runs from start to end.
    whole: ['services', 'running'],
  },
  ui: { ground: ['data', 'kit'], pictures: ['charts', 'editors'], screens: ['parts', 'stages', 'frame'] },
};

/** The rules that keep the folders of a part on their floors. */
const onFloors = (part) => {
  const folders = Object.entries(floors[part]).flatMap(([floor, names]) => names.map((name) => ({ floor, name })));
  return folders.map(({ floor, name }, i) => ({
    name: `${part}-floors`,
    severity: 'error',
    comment: `${part}/${name} is on the floor “${floor}” and may depend on what is named before it only.`,
    from: { path: `^${part}/${name}/`, pathNot: '(\\.test\\.tsx?$|/testing/)' },
    to: {
      path: `^${part}/[^/]+/`,
      pathNot: `^${part}/(${folders
        .slice(0, i + 1)
        .map((folder) => folder.name)
        .join('|')}${part === 'core' ? '' : '|testing'})/`,
    },
  }));
};

export default {
  forbidden: [
    ...Object.keys(floors).flatMap(onFloors),
    only('core-alone', 'core', []),
    only('ui-on-core', 'ui', ['core']),
    {
      name: 'ui-asks-by-its-client',
      severity: 'error',
      comment: 'Screens reach operations and their answers through ui/data only.',
      from: { path: '^ui/', pathNot: '(^ui/data/|\\.test\\.tsx?$|/testing/)' },
      to: { path: '^core/(operations|answers)/' },
    },
    only('store-on-core', 'store', ['core']),
    only('engine-on-core-and-store', 'engine', ['core', 'store']),
    only('app-thin', 'app', ['ui', 'core']),
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
