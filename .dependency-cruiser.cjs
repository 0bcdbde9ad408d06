/** Imports run one way: web → contract → core and server → contract → core. The core knows its decimal library and itself. */
const folder = (name) => `^${name}/`;
module.exports = {
  forbidden: [
    {
      name: 'no-circle',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'core-alone',
      severity: 'error',
      from: { path: folder('core'), pathNot: '\\.test\\.ts$' },
      to: { pathNot: ['^core/', 'node_modules/decimal\\.js'] },
    },
    {
      name: 'core-tests',
      severity: 'error',
      from: { path: '^core/.*\\.test\\.ts$' },
      to: { pathNot: ['^core/', 'node_modules/(decimal\\.js|fast-check|vitest)'] },
    },
    {
      name: 'rooms-know-no-workspace',
      severity: 'error',
      from: {
        path: '^core/(numbers|lookup|buildup|items|regions|lockstep|costs|rounding|lists|ledger|guards|recipes|quotes)/',
        pathNot: '\\.test\\.ts$',
      },
      to: { path: '^core/(workspace|checks|bulk|evaluator|worksheets)/' },
    },
    {
      name: 'contract-down',
      severity: 'error',
      from: { path: folder('contract') },
      to: { path: ['^(evaluator|bench|server|web|demo|e2e|standins)/'] },
    },
    {
      name: 'evaluator-down',
      severity: 'error',
      from: { path: folder('evaluator'), pathNot: '\\.test\\.ts$' },
      to: { path: ['^(bench|server|web|demo|e2e|standins)/'] },
    },
    {
      name: 'web-not-server',
      severity: 'error',
      from: { path: folder('web'), pathNot: '\\.test\\.' },
      to: { path: ['^(server|demo|e2e)/'] },
    },
    { name: 'web-tests', severity: 'error', from: { path: '^web/.*\\.test\\.' }, to: { path: ['^(server|e2e)/'] } },
    { name: 'server-not-web', severity: 'error', from: { path: folder('server') }, to: { path: ['^(web|demo|e2e)/'] } },
    {
      name: 'kit-knows-no-prices',
      severity: 'error',
      from: { path: '^web/(kit|grid)/', pathNot: '\\.test\\.' },
      to: { path: ['^web/(?!kit|grid|frame/(?:preferences|moments))', '^core/(?!numbers)'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { conditionNames: ['import', 'node', 'default'], exportsFields: ['exports'] },
  },
};
