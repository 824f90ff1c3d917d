/** Floors of core, from the cellar up: a folder may use those before it, by their index, never those after it. */
const floors = [
  'kernel',
  'air',
  'logfile',
  'electrics',
  'survey',
  'injection',
  'plan',
  'fuel',
  'tach',
  'spark',
  'wiring',
  'fitup',
  'tune',
  'unit',
  'start',
  'idle',
  'samples',
  'diagnose',
  'learn',
  'drive',
  'handover',
  'bench',
  'judge',
]
const code = '(?<!\\.test|\\.fixture)\\.ts$'
const upward = floors.slice(0, -1).map((floor, i) => ({
  name: `${floor}-looks-down`,
  severity: 'error',
  comment: `core/src/${floor} may use only the floors below it; what it needs from above, a station contributes`,
  from: { path: `^core/src/${floor}/.*${code}` },
  to: { path: `^core/src/(${floors.slice(i + 1).join('|')})/` },
}))

module.exports = {
  forbidden: [
    ...upward,
    {
      name: 'every-folder-has-a-floor',
      severity: 'error',
      comment: 'a new folder of core gets its place in the list of floors in this file',
      from: { path: `^core/src/(?!(${floors.join('|')})/)[^/]+/` },
      to: {},
    },
    {
      name: 'by-the-index',
      severity: 'error',
      comment: 'a folder of core uses another by its index.ts',
      from: { path: `^core/src/([^/]+)/.*${code}` },
      to: { path: '^core/src/[^/]+/', pathNot: ['^core/src/$1/', '^core/src/[^/]+/index\\.ts$', '^core/src/kernel/told\\.ts$'] },
    },
    {
      name: 'core-stands-alone',
      severity: 'error',
      comment: 'core imports neither server nor web',
      from: { path: '^core/' },
      to: { path: '^(server|web)/' },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'no Node built-ins, Vue or DOM libraries in core',
      from: { path: '^core/src', pathNot: '\\.(test|fixture)\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-libraries',
      severity: 'error',
      comment: 'core may use zod and papaparse, nothing else',
      from: { path: '^core/src', pathNot: '\\.(test|fixture)\\.ts$' },
      to: { path: 'node_modules/(?!zod|papaparse|@types/papaparse)' },
    },
    { name: 'server-not-web', severity: 'error', from: { path: '^server/' }, to: { path: '^web/' } },
    { name: 'web-not-server', severity: 'error', from: { path: '^web/' }, to: { path: '^server/' } },
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.vue', '.js'],
    },
  },
}
