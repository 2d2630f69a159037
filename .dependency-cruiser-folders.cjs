/** No circle between folders of core, or of media: what one of them is for can be said without the others. Tests may look anywhere. */
module.exports = {
  forbidden: [
    {
      name: 'no-circle-of-folders',
      severity: 'error',
      scope: 'folder',
      from: { path: '^(core|media)' },
      to: { circular: true },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.test\\.tsx?$|/testing(/|$)|/assembly/' },
    tsPreCompilationDeps: true,
  },
};
