/** Arrows point downwards only: app > ui > (server by address only) ; cli, server > standin, media > core. */
const only = (from, to) => ({
  name: `${from}-imports`,
  severity: 'error',
  comment: `${from} may import only from: ${to.join(', ')}`,
  from: { path: `^${from}/`, pathNot: '\\.test\\.tsx?$' },
  to: {
    path: '^(app|ui|cli|server|api|standin|packs|media|core|e2e|scripts)/',
    // Programs are started from bundles.
    pathNot: `^(${[from, ...to].join('|')})/|^scripts/bundle[.]`,
  },
});

module.exports = {
  forbidden: [
    only('app', ['ui', 'api', 'core']),
    only('ui', ['api', 'core']),
    only('cli', ['packs', 'media', 'core']),
    only('server', ['api', 'standin', 'packs', 'media', 'core']),
    only('packs', ['media', 'core']),
    only('api', ['core']),
    only('standin', ['media', 'core']),
    only('media', ['core']),
    only('core', []),
    {
      name: 'testing-is-for-tests',
      severity: 'error',
      comment: 'What only tests use is not part of the product.',
      from: { pathNot: '(\\.test\\.tsx?$|(^|/)testing/)' },
      to: { path: '(^|/)testing/', pathNot: 'node_modules' },
    },
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment:
        'The core knows no platform, and no package but pure ones: dates, sun, CSV, XML, calendars, Fourier transforms, types of Joi.',
      from: { path: '^core/', pathNot: '(\\.test\\.ts$|^core/testing/)' },
      to: {
        dependencyTypes: ['core', 'npm', 'npm-dev', 'npm-peer'],
        pathNot:
          'node_modules/(luxon|@types/luxon|suncalc|papaparse|@types/papaparse|ical-generator|joi|fft.js|' +
          'fast-xml-parser|webvtt-parser|svgpath)/',
      },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
  },
};
