import { report, sized } from './report.mjs';

/** Runs that a library of this many is made of: real start-ups, and each of them again with other figures. */
const drawn = sized(240, 4);
const wanted = sized(100_000, 400);

/** Signatures of made-up cases, and of units like them until there are enough. */
function makeLibrary(core) {
  const profiles = core.shippedProfiles.filter((p) => !p.generic);
  const signatures = [];
  for (let k = 0; signatures.length < drawn * 4 && k < drawn; k++) {
    const profile = profiles[k % profiles.length];
    const one = core.makeCase(profile, core.seededRandom(40_000 + k), { generic: true });
    for (const run of one.value.runs)
      signatures.push(core.signatureOf(run, core.describe(one.value, run, one.traces.get(run.id), null)));
  }
  const random = core.seededRandom(77);
  const near = (list, spread) => list.map((x) => x + spread * core.gaussianNoise(random));
  const cases = Array.from({ length: wanted }, (_, k) => {
    const of = signatures[k % signatures.length];
    const level = 0.25 * core.gaussianNoise(random);
    const course = near(of.course, 0.05).map((x) => Math.max(0, x + (x > 0.3 ? level : 0)));
    const features = near(of.features, 0.1).map((x, f) => x + (core.featureTypes[f].isLevel ? level : 0));
    return {
      id: `c${k}`,
      origin: null,
      model: `m${k % 400}`,
      deviceClass: 'phone',
      circuit: core.circuitIds[k % core.circuitIds.length],
      element: '',
      part: '',
      cure: '',
      grade: 'measured',
      closedAt: k,
      says: `job ${k}`,
      weight: 1,
      // All in one setup, so that every one of them has to be held against the one that is looked for.
      signatures: [{ ...of, setup: signatures[0].setup, features, course }],
    };
  });
  return { cases, queries: signatures };
}

/** Ten nearest of a hundred thousand, exactly, on one thread. */
export function benchLibrary(core) {
  const { cases, queries } = makeLibrary(core);
  const began = performance.now();
  const shelf = new core.CaseShelf(cases);
  const built = performance.now() - began;
  const near = (q) => shelf.near({ ...q, setup: queries[0].setup }, 10);
  for (const q of queries.slice(0, 20))
    if (near(q).length !== 10) throw new Error('ten are the nearest of so many; the search found others');
  const times = queries.slice(0, 400).map((q) => {
    const t = performance.now();
    near(q);
    return performance.now() - t;
  });
  times.sort((a, b) => a - b);
  const at = (share) => times[Math.floor(share * (times.length - 1))];
  const worst = `worst of ${times.length}: ${at(1).toFixed(1)} ms`;
  report('Nearest 10 of 100,000 runs, median', at(0.5).toFixed(1), 'ms', '< 50 ms', at(0.5) < 50, worst);
  report('Nearest 10 of 100,000 runs, 99th percentile', at(0.99).toFixed(1), 'ms', '< 50 ms', at(0.99) < 50);
  const megabytes = shelf.bytes / 1e6;
  report(
    'Shelf of 100,000 cases',
    megabytes.toFixed(0),
    'MB',
    '< 60 MB',
    megabytes < 60,
    `built in ${built.toFixed(0)} ms`,
  );
}
