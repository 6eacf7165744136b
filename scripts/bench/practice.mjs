import { quantile, report, sized } from './report.mjs';

/** Seeds that nothing was chosen by. */
const trainSeed = 140_000;
const testSeed = 160_000;
/** Shares of what is learnt from one unit that hold for every circuit: none, and a tenth. */
const transfers = [0, 0.1];
const learners = sized(40, 1);
const targetMinutes = 120;
const unitMinutes = 5;

/** Units: how fast they are ready and answer, and how simulated learners fare with them. */
export function benchPractice(core) {
  speed(core);
  const profiles = core.shippedProfiles.filter((p) => !p.generic).slice(0, sized(Infinity, 1));
  const train = core.unitBank(profiles, 2, trainSeed);
  const test = core.unitBank(profiles, 2, testSeed);
  const points = [...core.enginePointsBy(train)].map(([id, x]) => `"${id}": ${Math.round(x)}`).join(', ');
  process.stdout.write(`points of the engine by circuit, for core/src/practice/difficulty.json:\n{ ${points} }\n`);
  report('engine, mean points of the test units', core.meanPoints(test, null).toFixed(0), 'points', '', null);
  for (const transfer of transfers.slice(0, sized(2, 1)))
    for (const who of core.learnerSpeeds) learner(core, train, test, who, transfer);
}

function learner(core, train, test, who, transfer) {
  const units = Object.fromEntries(
    ['scheduler', 'random'].map((by) => [
      by,
      Array.from(
        { length: learners },
        (_, k) => core.practiseUnits(train, test, who, by, k + 1, transfer).units ?? Infinity,
      ),
    ]),
  );
  const [own, random] = [quantile(units.scheduler, 0.5), quantile(units.random, 0.5)];
  const minutes = own * unitMinutes;
  const what = `${who} learner, ${transfer * 100} % transfer`;
  report(
    `${what}, to 80 % of the engine by the scheduler, median of ${learners}`,
    minutes,
    'min',
    `<= ${targetMinutes} min`,
    minutes <= targetMinutes,
    `${own} units`,
  );
  const more = 100 * (random / own - 1);
  report(`${what}, with units as they come`, `+${more.toFixed(0)}`, '%', '>= +40 %', more >= 40, `${random} units`);
}

function speed(core) {
  const ready = [];
  const answers = [];
  const timed = (list, work) => {
    const began = performance.now();
    const made = work();
    list.push(performance.now() - began);
    return made;
  };
  for (const profile of core.shippedProfiles.slice(0, sized(Infinity, 1)))
    for (let k = 1; k <= sized(6, 1); k++) {
      const unit = timed(ready, () => core.drawUnit({ profile }, core.seededRandom(testSeed + k)));
      const state = core.stateAfter(unit.device, unit.faults, []);
      const fresh = () => new core.PracticeBench(unit.device, state, k);
      const [feed] = core.feedsOf(unit.device);
      const on = { feed, instrument: core.instrumentsOf[feed][0], port: 1, battery: true, presses: true };
      const rail = unit.device.rails[0].id;
      timed(answers, () => fresh().record({ ...on, setV: null, limitA: null, flipped: false, unplugged: [] }, 0));
      for (const check of core.checkIds) timed(answers, () => fresh().check(check));
      timed(answers, () => fresh().probe(rail, 'voltage', 'after'));
      timed(answers, () => fresh().feed(rail, 1, 1));
    }
  const [r, a] = [quantile(ready, 0.99), quantile(answers, 0.99)];
  report('a unit is ready, 99th percentile', r.toFixed(0), 'ms', '< 1,000 ms', r < 1000);
  report('an answer of the virtual board, 99th percentile', a.toFixed(1), 'ms', '< 100 ms', a < 100);
}
