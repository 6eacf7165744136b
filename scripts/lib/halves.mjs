// The numbers that are set by evidence, set by one part of it and held against the other: what practice on the same cases flatters.
import { bends } from './numbers.mjs';

/** How sharp the tables are, and how far the worlds are believed beside them. */
const setByEvidence = [
  { file: 'observation/patterns.json', way: 'sharpness' },
  { file: 'observation/runs.json', way: 'tableSharpness' },
  { file: 'observation/runs.json', way: 'owedToUsual' },
  { file: 'observation/runs.json', way: 'slip' },
  { file: 'prediction/fit.json', way: 'population.patterns' },
  { file: 'prediction/fit.json', way: 'population.checks' },
];

const stages = [0, 1, 2];
const leastP = 1e-4;

/** Two ways to part the cases: every other one, and by who wrote them. */
export function partings(cases) {
  const ids = [...new Set(cases.map((c) => c.case))].sort();
  const odd = new Set(ids.filter((_, k) => k % 2 === 1));
  return [
    { name: 'every other case', isFirst: (c) => !odd.has(c.case) },
    { name: 'practice and systematic', isFirst: (c) => c.held.family === 'practice' },
  ];
}

const known = (done) => done.filter((d) => d.case && !d.held.isOdd);

const logLoss = (list) =>
  list.reduce((sum, { held }) => sum - Math.log(Math.max(held.pTrue, leastP)), 0) / Math.max(1, list.length);

/** What is said of a part, by stage of the work. */
function figuresOf(list) {
  return stages.map((stage) => {
    const at = list.filter(({ held }) => held.stage === stage);
    const share = (of) => at.reduce((sum, { held }) => sum + Number(of(held)), 0) / Math.max(1, at.length);
    return {
      accepted: share((h) => h.accepted),
      exact: share((h) => h.exact),
      said: share((h) => h.said),
      logLoss: logLoss(at),
    };
  });
}

/**
 * Sets the numbers by either part of the cases, each on its own, and says how both parts fare then.
 *
 * @param assess assesses the evidence with numbers bent: `(bent) => done`
 * @param say takes lines
 */
export async function tableHalves(assess, say) {
  const usual = known(await assess([]));
  const tried = [];
  for (const number of setByEvidence)
    for (const factor of bends) {
      const bent = { ...number, factor };
      tried.push({ number, bent, done: known(await assess([bent])) });
    }
  for (const { name, isFirst } of partings(usual)) {
    say(`\n${name}                          accepted first       the very circuit     said of it           log loss`);
    const parts = [
      { part: 'first', isIn: isFirst },
      { part: 'second', isIn: (c) => !isFirst(c) },
    ];
    const row = (label, list) => {
      const figures = figuresOf(list);
      const cells = (of, digits = 0, factor = 100) =>
        figures.map((f) => (factor * f[of]).toFixed(digits).padStart(5)).join(' ');
      say(
        `${label.padEnd(42)} ${cells('accepted')}    ${cells('exact')}    ${cells('said')}    ${cells('logLoss', 2, 1)}   (${list.length / stages.length} cases)`,
      );
    };
    for (const { part, isIn } of parts) row(`${part} part, as the engine is`, usual.filter(isIn));
    for (const { part, isIn } of parts) {
      const before = logLoss(usual.filter(isIn));
      const best = setByEvidence.flatMap((number) => {
        const [first] = tried
          .filter((t) => t.number === number)
          .map((t) => ({ ...t, loss: logLoss(t.done.filter(isIn)) }))
          .sort((a, b) => a.loss - b.loss);
        return first.loss < before ? [first.bent] : [];
      });
      const done = known(await assess(best));
      say(`  set by the ${part} part: ${best.map((b) => `${b.way} × ${b.factor}`).join(', ') || 'nothing moves'}`);
      for (const other of parts) row(`    ${other.part} part`, done.filter(other.isIn));
    }
  }
}
