// Asks all the time whether the application still answers; on a thread of its own, since making what is sent takes time too.
import { parentPort, workerData } from 'node:worker_threads';

const askEveryMs = 200;
let isOver = false;
parentPort.once('message', () => (isOver = true));
while (!isOver) {
  const began = performance.now();
  const answer = await fetch(`${workerData.url}/api/health`).catch((error) => error);
  const ms = Math.round(performance.now() - began);
  const said = (await answer.json?.().catch(() => null)) ?? {};
  parentPort.postMessage({
    ms,
    inside: said.stallMs ?? 0,
    failed: answer.ok ? null : (answer.status ?? String(answer)),
  });
  await new Promise((resolve) => setTimeout(resolve, askEveryMs));
}
parentPort.close();
