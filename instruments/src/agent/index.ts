import { join } from 'node:path';
import { Guard } from '../watchdog/guard.ts';
import { Agent, type AgentOptions } from './agent.ts';

export { Agent, type AgentOptions } from './agent.ts';
export { type Command } from './server-link.ts';

/** How long a stop waits for the server before what is held is left on disk. */
const patienceMs = 10_000;

/** Runs the recorder of a bench until the process is asked to end; outputs are off and recordings on disk then. */
export async function runAgent(options: AgentOptions): Promise<void> {
  const guard = new Guard(join(__dirname, '../watchdog/main.js'), join(options.folder, 'watchdog.ndjson'));
  const agent = new Agent({ ...options, guard });
  const ended = new Promise<void>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve());
  });
  await agent.start();
  await ended;
  await agent.stop(AbortSignal.timeout(patienceMs));
}
