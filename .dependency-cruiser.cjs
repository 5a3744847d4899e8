/** Imports go one way: web -> core, server -> core. See README, "The house". */
const only = (name, from, allowed, comment) => ({
  name,
  comment,
  severity: 'error',
  from: { path: from, pathNot: '\\.test\\.ts$' },
  to: { path: '^(core|server|web|standins|demo|bench|e2e|tools)/', pathNot: allowed },
});
module.exports = {
  forbidden: [
    only('core-stands-alone', '^core/', '^core/', 'core/ imports nothing but core/'),
    {
      name: 'core-no-io',
      comment: 'core/ is pure: no node built-ins, no framework',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^(node:|fs$|crypto$|path$)|node_modules/(vue|pinia|hono|sequelize|ant-design-vue|mariadb)/',
        dependencyTypesNot: ['type-only'],
      },
    },
    only(
      'server-knows-core',
      '^server/',
      '^(core|server|demo)/',
      'server/ imports core/ (and demo/ to fill an empty database)',
    ),
    only('demo-knows-core', '^demo/', '^(core|demo)/', 'demo/ imports core/'),
    {
      name: 'web-takes-types-of-the-api-only',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^server/', pathNot: '^server/contract/' },
    },
    {
      name: 'rooms-know-no-http',
      comment: 'only the start of the server and its tests know api/',
      severity: 'error',
      from: { path: '^server/', pathNot: '^server/(api/|testing/|main\\.ts)|\\.test\\.ts$' },
      to: { path: '^server/api/|node_modules/@?hono/' },
    },
    {
      name: 'web-knows-core',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^(demo|bench|e2e|tools|standins)/' },
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
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default', 'types'] },
  },
};
