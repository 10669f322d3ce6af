/* global module */
/** Layers: see docs/architecture.md. One rule a layer; `scripts/layers.mjs` proves with a canary that they bite. */
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: from, pathNot: '\\.(test|bench)\\.tsx?$' },
  to: { path: '^src/', pathNot: allowed },
});
const CORE_PACKAGES = [
  '@noble/hashes',
  'zod',
  'clipper2-ts',
  'robust-predicates',
  'flatbush',
  'flatqueue',
  'bidi-js',
  'harfbuzzjs',
  'earcut',
  'fast-png',
  // Its types alone: booleans of solids are handed in.
  'manifold-3d',
  'fast-xml-parser',
  'fflate',
  'svgpath',
  'dxf-parser',
  '@tarikjabiri/dxf',
  'papaparse',
  '@types/papaparse',
];
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    only('core-imports-nothing-of-ours', '^(src|scripts/canary/src)/core', '^src/core'),
    only('workers-import-core', '^src/workers', '^src/(core|workers)'),
    only('server-imports-core', '^src/server', '^src/(core|server)'),
    only('ui-imports-core-workers-actions', '^src/ui', '^src/(ui|core|workers/.*\\.client|server/actions)'),
    only('app-imports-ui-core-server', '^src/app', '^src/(app|ui|core|server/(?!db/))'),
    only('cli-imports-core-and-resources', '^src/cli', '^src/(cli|core|server/resources)'),
    {
      name: 'core-packages',
      severity: 'error',
      from: { path: '^(src|scripts/canary/src)/core', pathNot: '\\.(test|bench)\\.ts$' },
      to: { dependencyTypes: ['npm', 'npm-dev', 'core', 'npm-no-pkg', 'unknown'], pathNot: `node_modules/(${CORE_PACKAGES.join('|')})/` },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'require', 'node', 'default', 'types'] },
  },
};
