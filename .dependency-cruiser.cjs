// The arrows of docs/architecture.md: each package may only use what stands below it.
const onlyBelow = (name, allowed) => ({
  name: `${name}-uses-only-what-is-below`,
  severity: 'error',
  from: { path: `^packages/${name}/src` },
  to: { path: '^packages/', pathNot: `^packages/(${[name, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    onlyBelow('core', []),
    onlyBelow('contract', ['core']),
    onlyBelow('files', ['core']),
    onlyBelow('demo', ['core', 'files']),
    onlyBelow('server', ['contract', 'core', 'files']),
    onlyBelow('cli', ['server', 'contract', 'core', 'files']),
    onlyBelow('web', ['contract', 'core']),
    {
      // Text and archive formats are read, and parameters checked, by well-known packages; they do no I/O.
      name: 'core-has-no-io-and-only-parsers',
      severity: 'error',
      from: { path: '^packages/core/src' },
      to: {
        dependencyTypes: ['core', 'npm', 'npm-dev'],
        pathNot: ['^packages/core/', 'node_modules/(yaml|saxes|fflate|zod)/'],
      },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    { name: 'nothing-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/|packages/core/(kernels|codecs)/' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default', 'types'] },
  },
};
