module.exports = {
  forbidden: [
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
