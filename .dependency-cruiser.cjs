/** Who may import whom, beyond what ESLint says at the line: no circles, by file. Run by `npm test`. */
module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      comment: 'Files that import each other cannot be read one at a time. Move what both need into a third.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'not-upward',
      comment: 'Controls, commands and the shell serve all screens and know none.',
      severity: 'error',
      from: { path: '^packages/web/src/(controls|commands|shell)/' },
      to: { path: '^packages/web/src/(bench|sheet|look|pages)/' },
    },
    {
      name: 'sheet-without-bench',
      severity: 'error',
      from: { path: '^packages/web/src/sheet/' },
      to: { path: '^packages/web/src/bench/' },
    },
    {
      name: 'bench-ground-without-features',
      comment: 'State, picture and sections of the bench serve all its features and know none.',
      severity: 'error',
      from: { path: '^packages/web/src/bench/(state|picture|steps)/', pathNot: '\\.test\\.tsx?$' },
      to: { path: '^packages/web/src/bench/', pathNot: '^packages/web/src/bench/(state|picture|steps)/' },
    },
    {
      name: 'settings-before-pipeline',
      comment: 'What is computed is planned from the settings; they do not know how.',
      severity: 'error',
      from: { path: '^packages/core/src/(settings|steps|geometry)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^packages/core/src/pipeline/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|build)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'] },
  },
}
