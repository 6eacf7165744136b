// The steps of a test run: what each one printed comes in one piece, whatever runs beside it.
import { spawn } from 'node:child_process';
import { root, say } from './run.mjs';

/** What a whole run has counted, and how long each step took. */
export class Steps {
  passed = 0;
  /** What failed, by name: said once more at the end, where it is looked for. */
  failures = [];
  /** How long pieces of it took, s. */
  taken = {};
  children = new Set();

  get failed() {
    return this.failures.length;
  }

  /**
   * Runs a step that counts what passed in it by itself; one that broke off before it could counts as failed.
   *
   * @param work given `run(command, args, options)`, which gives the exit code; true for a step that went well
   */
  async step(name, work) {
    const { ok, brokeOff } = await this.#carryOut(name, work);
    if (brokeOff) this.failures.push(name);
    return ok;
  }

  /** A step that passes or fails as a whole. */
  async check(name, work) {
    const { ok } = await this.#carryOut(name, work);
    if (ok) this.passed++;
    else this.failures.push(name);
    return ok;
  }

  /** Says how a step ended. What it prints is kept and shown at its end, since others run beside it. */
  async #carryOut(name, work) {
    const began = Date.now();
    let output = '';
    const run = (command, args, options = {}) => this.#run(command, args, options, (text) => (output += text));
    let [ok, brokeOff] = [false, false];
    try {
      ok = await work(run);
    } catch (error) {
      brokeOff = true;
      output += `${error?.stack ?? error}\n`;
    }
    const seconds = Math.round((Date.now() - began) / 1000);
    say(
      `\n— ${name}\n${output.trimEnd()}${output.trim() ? '\n' : ''}— ${name}: ${ok ? 'ok' : 'FAILED'} (${seconds} s)`,
    );
    return { ok, brokeOff };
  }

  #run(command, args, options, print) {
    return new Promise((resolve, reject) => {
      const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
      this.children.add(child);
      child.stdout?.on('data', print);
      child.stderr?.on('data', print);
      child.on('error', reject);
      child.on('close', (code, signal) => {
        this.children.delete(child);
        resolve(code ?? (signal ? 1 : 0));
      });
    });
  }

  /** Ends what still runs. */
  stop() {
    for (const child of this.children) child.kill('SIGTERM');
  }
}
