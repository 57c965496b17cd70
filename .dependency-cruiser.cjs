/** Layers point downward only: core < engine < demo < server < cli, and core < web. */
const room = (names) => `^(${names.join('|')})/`;
const forbid = (from, to, comment) => ({
  name: `${from}-stays-below`,
  severity: 'error',
  comment,
  from: { path: room([from]), pathNot: '\\.test\\.ts$' },
  to: { path: room(to) },
});

/** The floors of core, and the rooms on each: a room uses only those named before it. */
const CORE_FLOORS = {
  '1-ground': [
    'words.ts',
    'glossary.ts',
    'problem.ts',
    'random.ts',
    'csv.ts',
    'axis-span.ts',
    'place-labels.ts',
    'numbers',
    'curves',
    'units',
    'fields',
    'schema',
  ],
  '2-trade': ['media', 'links', 'drives', 'sound'],
  '3-jobs': ['demand', 'recording', 'material', 'recipes'],
  '4-runs': ['stand-ins', 'run', 'trace', 'supply'],
  '5-answers': ['compare', 'copies', 'verdict', 'ask', 'sizing'],
  '6-exchange': ['report', 'archive', 'api'],
};
const coreRooms = Object.entries(CORE_FLOORS).flatMap(([floor, rooms]) => rooms.map((one) => `${floor}/${one}`));
const roomOfCore = (name) => `^core/${name.replace('.', '\\.')}${name.endsWith('.ts') ? '$' : '/'}`;
const coreRules = coreRooms.map((name, index) => ({
  name: `core-${name.replace(/.*\//, '')}-stays-below`,
  severity: 'error',
  comment: 'rooms of core use only those on lower floors, or before them on their own',
  from: { path: roomOfCore(name), pathNot: '\\.test\\.ts$' },
  to: { path: [...coreRooms.slice(index + 1).map(roomOfCore), '^core/testing/'] },
}));

module.exports = {
  forbidden: [
    ...coreRules,
    {
      name: 'core-is-on-a-floor',
      severity: 'error',
      comment: 'every file of core stands in a room that has its place in the order',
      from: {},
      to: { path: '^core/', pathNot: [...coreRooms.map(roomOfCore), '^core/testing/'] },
    },
    forbid(
      'core',
      ['engine', 'server', 'web', 'cli', 'demo', 'e2e'],
      'core knows nothing of files, servers or pictures',
    ),
    forbid('engine', ['server', 'web', 'cli', 'demo', 'e2e'], 'the engine measures and keeps nothing'),
    forbid('demo', ['server', 'web', 'cli', 'e2e'], 'the demo is data'),
    forbid('server', ['web', 'cli', 'e2e'], 'the server does not know who asks'),
    forbid('web', ['engine', 'server', 'cli', 'demo', 'e2e'], 'the interface talks to the server only through web/api'),
    forbid('cli', ['web', 'e2e'], 'the command line works without a browser'),
    {
      name: 'core-is-pure',
      severity: 'error',
      comment:
        'core uses neither Node nor a library but those for schemas, tables and spectra, and one file the container reader',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypes: ['core', 'npm'],
        pathNot: 'node_modules/(yup|mediabunny|papaparse|d3-scale|fft\\.js|@types/(papaparse|d3-scale))/',
      },
    },
    {
      name: 'containers-in-one-file',
      severity: 'error',
      comment: 'clips are read through core/3-jobs/material/read-clip.ts',
      from: { pathNot: '^core/(3-jobs/material/read-clip|testing/made-clips)' },
      to: { path: 'node_modules/mediabunny/' },
    },
    {
      name: 'recipes-know-no-files',
      severity: 'error',
      comment: 'recipes compose plans; volumes carry them out',
      from: { path: '^engine/recipes/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(engine/volumes/(real|stand-in)/|engine/scratch/)|^(node:)?fs' },
    },
    {
      name: 'server-through-api-only',
      severity: 'error',
      comment: 'only web/api calls the server',
      from: { path: '^web/places/' },
      to: { path: '^web/api/feed' },
    },
    {
      name: 'no-circles',
      severity: 'error',
      comment: 'modules do not import each other in circles',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: ['node_modules', '^dist/'] },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.mjs'] },
    tsConfig: { fileName: 'tsconfig.base.json' },
  },
};
