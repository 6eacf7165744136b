import { once } from 'node:events';
import { readdirSync, readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';

const stallMs = 1000;
/** How long the pages may serve nobody. */
const mostInsideMs = 200;
const lookEveryMs = 5000;
/** The first minute fills caches; what grows after that by more than this is a leak. */
const warmMs = 60_000;
const growth = { share: 0.5, bytes: 150e6 };

/** A process and those that it started, with what each holds in memory. Bytes. */
function memoryOf(pid) {
  try {
    const status = readFileSync(`/proc/${pid}/status`, 'utf8');
    const kB = Number(/^VmRSS:\s+(\d+)/m.exec(status)?.[1] ?? 0);
    const children = readdirSync(`/proc/${pid}/task`).flatMap((task) =>
      readFileSync(`/proc/${pid}/task/${task}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number),
    );
    return 1000 * kB + children.reduce((sum, child) => sum + memoryOf(child), 0);
  } catch {
    return 0;
  }
}

/** Asks all the time whether the application still answers, and looks at what its processes hold. */
export function watchTarget({ url, web, recorder }) {
  const began = performance.now();
  const stalls = [];
  const failures = [];
  const recorderPid = recorder.pid();
  const held = { pages: [], recorder: [] };
  let [asked, longest, longestInside] = [0, 0, 0];
  const health = new Worker(new URL('health.mjs', import.meta.url), { workerData: { url } });
  health.on('message', ({ ms, inside, failed }) => {
    const at = `at ${Math.round((performance.now() - began) / 1000)} s`;
    asked++;
    longest = Math.max(longest, ms);
    longestInside = Math.max(longestInside, inside);
    if (ms > stallMs) stalls.push(`an answer took ${ms} ms ${at}`);
    if (inside > mostInsideMs) stalls.push(`the pages served nobody for ${inside} ms ${at}`);
    if (failed !== null) failures.push(failed);
  });
  const look = setInterval(() => {
    held.pages.push(memoryOf(web.child.pid));
    held.recorder.push(memoryOf(recorder.pid()));
  }, lookEveryMs);
  const grown = (name) => {
    const after = held[name].slice(Math.floor(warmMs / lookEveryMs));
    const [from, to] = [median(after.slice(0, 6)), median(after.slice(-6))];
    const isMore = after.length > 12 && to - from > Math.max(growth.bytes, growth.share * from);
    return isMore ? [`${name} grew from ${mb(from)} to ${mb(to)} MB`] : [];
  };
  return {
    end: async () => {
      clearInterval(look);
      health.postMessage('over');
      await once(health, 'exit');
      return [
        ...(stalls.length > 0 ? [`stalls: ${stalls.slice(0, 10).join(', ')}`] : []),
        ...(failures.length > 0
          ? [`health was refused or failed ${failures.length} times: ${failures.slice(0, 5).join(', ')}`]
          : []),
        ...(recorder.pid() === recorderPid ? [] : ['the recorder was started again']),
        ...(web.child.exitCode === null ? [] : ['the pages ended']),
        ...grown('pages'),
        ...grown('recorder'),
      ];
    },
    figures: () =>
      `Health was asked ${asked} times, the longest answer took ${longest} ms, the pages served nobody for up to ${longestInside} ms. ` +
      `Pages hold ${mb(held.pages.at(-1) ?? 0)} MB (${mb(held.pages[0] ?? 0)} at first), the recorder ${mb(held.recorder.at(-1) ?? 0)} MB.`,
  };
}

const mb = (bytes) => Math.round(bytes / 1e6);
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
