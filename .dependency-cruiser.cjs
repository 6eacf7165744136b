/** The arrows of docs/architecture.md, as rules. A floor may use what is below it, and only through its face. */
const ground = ['quantity', 'catalogue'];
const floors = {
  quantity: [],
  catalogue: [],
  inference: [],
  trace: [...ground],
  case: [...ground, 'trace'],
  shape: [...ground, 'trace'],
  twin: [...ground, 'trace'],
};
floors.population = [...floors.twin, 'twin'];
floors.reasons = [...ground, 'trace', 'case'];
floors.hypotheses = [...floors.reasons, 'reasons', 'inference', 'shape', 'twin'];
floors.prediction = [...floors.hypotheses, 'population', 'hypotheses'];
floors.observation = [...floors.prediction, 'prediction'];
floors.proof = [...floors.observation, 'observation'];
floors.formats = [...ground, 'trace', 'case', 'shape', 'twin', 'population'];
floors.library = [...floors.observation, 'observation'];
floors.decide = [...floors.proof, 'proof'];
floors.diagnosis = [...floors.decide, 'decide', 'library'];
floors.bench = [...floors.diagnosis, 'diagnosis'];
floors.workbench = [...floors.diagnosis, 'diagnosis'];
floors.practice = [...floors.bench, 'bench'];
floors.display = [...ground, 'trace'];
floors.board = [...ground, 'trace', 'display'];
floors['made-up'] = [...floors.practice, 'practice', 'board'];

const coreRules = Object.entries(floors).map(([floor, below]) => ({
  name: `core-${floor}-uses-only-lower-floors`,
  severity: 'error',
  from: { path: `^core/src/${floor}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^core/src/', pathNot: [`^core/src/${floor}/`, ...below.map((b) => `^core/src/${b}/index\\.ts$`)] },
}));

/** The floors of the server, the lowest first: each uses itself and what is below. */
const serverFloors = ['record', 'analysis', 'work', 'edges'];
const serverRules = serverFloors.map((floor, k) => ({
  name: `server-${floor}-uses-only-lower-floors`,
  severity: 'error',
  // Tests of a floor may look at all that follows from it.
  from: { path: `^web/server/${floor}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^web/server/', pathNot: serverFloors.slice(0, k + 1).map((below) => `^web/server/${below}/`) },
}));

module.exports = {
  forbidden: [
    ...coreRules,
    ...serverRules,
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      comment: 'no Node, no DOM, no React, no database in the core',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '(\\.test\\.ts$|^core/src/testing/)' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-knows-nobody-above',
      severity: 'error',
      // Tests draw what they read with the tools.
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { path: ['^(tools|instruments|cli|web|e2e)/', 'node_modules/(react|next|knex|pg)/'] },
    },
    {
      name: 'instruments-know-only-the-core',
      severity: 'error',
      // Their tests make the schema that the pages use.
      from: { path: '^instruments/src/', pathNot: '^instruments/src/testing/' },
      to: { path: '^(tools|cli|web|e2e)/' },
    },
    {
      name: 'cli-is-core-with-a-shell',
      severity: 'error',
      from: { path: '^cli/src/' },
      // The recorder of a bench is started from here; nothing else of the instruments is used.
      to: { path: '^(instruments|web|e2e)/', pathNot: '^instruments/src/agent/' },
    },
    {
      name: 'design-system-stands-alone',
      severity: 'error',
      from: { path: '^web/ui/' },
      to: { path: '^web/(app|features|server)/' },
    },
    {
      name: 'server-below-features',
      severity: 'error',
      from: { path: '^web/server/' },
      to: { path: '^web/(app|features|ui)/' },
    },
    { name: 'features-below-app', severity: 'error', from: { path: '^web/features/' }, to: { path: '^web/app/' } },
    {
      name: 'the-door-knows-no-page',
      severity: 'error',
      from: { path: '^front/src/' },
      to: { path: '^(core|tools|instruments|cli|web|e2e)/', pathNot: '^instruments/plain/' },
    },
    { name: 'no-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '\\.css$' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|/\\.next/)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.arrows.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['module', 'import', 'require', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.json'],
    },
  },
};
