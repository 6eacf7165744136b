import { join } from 'node:path';
import { root } from '../lib/run.mjs';
import { report } from './report.mjs';
import { withSite } from './site.mjs';

/** A job with ten recorded runs, thirty further entries and two changes, as a case package. */
async function bigJob(core) {
  const random = core.seededRandom(11);
  const traces = new Map();
  const runs = Array.from({ length: 10 }, (_, k) => {
    const strokes = [
      { seconds: 5, amps: 0.002 },
      { seconds: 2, amps: 0.1 },
      { seconds: 40, amps: 0.2 + 0.05 * k },
    ];
    const trace = core.sketchTrace('battery', strokes, core.sketchInstruments.logger, random, { setV: 4, limitA: 3 });
    traces.set(`r${k + 1}`, trace);
    return {
      id: `r${k + 1}`,
      file: `runs/r${k + 1}.csv`,
      typed: null,
      feed: 'battery',
      quantity: 'current',
      instrument: trace.instrument,
      setup: { ...core.unknownSetup, unplugged: [], setV: 4, limitA: 3, battery: 'disconnected' },
      markers: [{ t: 5, event: 'prompt' }],
      contract: null,
      after: k < 5 ? null : k < 8 ? 'a1' : 'a2',
    };
  });
  const action = (id, circuit) => ({
    ...core.plainAction,
    id,
    kind: 'replace',
    circuit,
    target: `part ${id}`,
    note: '',
    runBefore: 'r1',
    undoes: null,
  });
  const value = {
    ...core.bareCase({ class: 'phone', model: 'Saltmere Brook 3' }, runs, 'bench-report'),
    checks: Array.from({ length: 15 }, () => ({
      ...core.plainCheck,
      id: 'screen',
      outcome: 'dark',
      note: 'seen again',
    })),
    readings: Array.from({ length: 15 }, (_, k) => ({
      ...core.plainReading,
      where: `coil ${k + 1}`,
      circuit: 'rail.run',
      mode: 'resistance',
      unit: 'ohm',
      value: 4000 + k,
    })),
    actions: [action('a1', 'rail.run'), action('a2', 'core.memory')],
  };
  return core.writeZip(core.packageFiles(value, (id) => ({ blocks: [traces.get(id)], startedAt: null })));
}

/** How long both reports of such a job take as a PDF, the first after the start and those after it. */
export async function benchPdf() {
  const core = (await import(join(root, 'core/dist/index.js'))).default;
  const zip = await bigJob(core);
  await withSite(async ({ web }) => {
    const imported = await (
      await fetch(`${web.url}/api/packages`, {
        method: 'POST',
        body: zip,
        headers: { 'content-type': 'application/zip' },
      })
    ).json();
    if (!imported.ok) throw new Error(imported.message);
    for (const audience of ['technician', 'customer']) {
      const times = [];
      let size = 0;
      for (let k = 0; k < 4; k++) {
        const began = performance.now();
        const answer = await fetch(`${web.url}/api/jobs/${imported.value}/report?for=${audience}`);
        size = (await answer.arrayBuffer()).byteLength;
        if (answer.headers.get('content-type') !== 'application/pdf') throw new Error('no PDF came');
        times.push((performance.now() - began) / 1000);
      }
      const [first, ...later] = times;
      report(
        `report for the ${audience} as a PDF, 30 entries and 10 runs, the first`,
        first.toFixed(2),
        's',
        '< 3 s',
        first < 3,
        `then ${Math.max(...later).toFixed(2)} s at most, ${Math.round(size / 1000)} kB`,
      );
    }
  });
}
