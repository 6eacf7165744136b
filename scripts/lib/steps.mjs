// The steps of a test run: what each one printed comes in one piece, whatever runs beside it.
import { spawn } from 'node:child_process';
import { stripVTControlCharacters } from 'node:util';
import { sayMachine, watchMachine } from './machine.mjs';
import { root, say } from './run.mjs';

/** Of what a failed test said, so many lines are said again at the end. */
const mostLines = 30;

/** What a whole run has counted, and how long each step took. */
export class Steps {
  passed = 0;
  /** What failed, by name: said once more at the end, where it is looked for. */
  failures = [];
  /** What failed while the machine was taken away: tried once more at the end, with nothing beside it. */
  doubtful = [];
  /** What passed only then. */
  passedAlone = [];
  /** What a failed test said, by its name: said with it at the end, since what scrolls by is gone where only the end is kept. */
  why = new Map();
  /** How long pieces of it took, s. */
  taken = {};
  children = new Set();

  /** @param watch as {@link watchMachine} */
  constructor(watch = watchMachine) {
    this.watch = watch;
  }

  get failed() {
    return this.failures.length;
  }

  /**
   * Runs a step that counts by itself; one that broke off before it could counts as failed.
   *
   * @param work given `run(command, args, options)`, which gives the exit code; gives how many passed and the names of what failed
   * @param again the same for the names that failed; all of it where left out
   */
  async step(name, work, again = work) {
    const machine = this.watch();
    const { passed, failed } = await this.#carryOut(name, work);
    const seen = machine.end();
    this.passed += passed;
    if (failed.length === 0) return true;
    if (seen.isSlow) this.doubtful.push({ name, failed, again, seen });
    else this.failures.push(...failed);
    return false;
  }

  /** Keeps what a failed test said, in its first lines; gives its name. */
  because(name, text) {
    const lines = stripVTControlCharacters(text).trim().split('\n');
    this.why.set(
      name,
      lines
        .slice(0, mostLines)
        .map((line) => `    ${line.slice(0, 200)}`)
        .join('\n'),
    );
    return name;
  }

  /** A step that passes or fails as a whole. */
  check(name, work) {
    return this.step(name, async (run) =>
      (await work(run)) ? { passed: 1, failed: [] } : { passed: 0, failed: [name] },
    );
  }

  /**
   * Tries once more, one after the other, what failed while the machine was taken away, and a last time where it is taken away
   * still. What passes then was late, not wrong; it is named all the same.
   */
  async tryAgain(tries = 2) {
    for (const { name, failed, again, seen } of this.doubtful.splice(0)) {
      const machine = this.watch();
      const once = await this.#carryOut(`${name}, once more, alone`, (run) => again(run, failed));
      const now = machine.end();
      const left = once.brokeOff ? failed : once.failed;
      const late = failed.filter((test) => !left.includes(test));
      this.passed += late.length;
      this.passedAlone.push(...late.map((test) => `${test} (${sayMachine(seen)})`));
      if (left.length > 0 && now.isSlow && tries > 1) this.doubtful.push({ name, failed: left, again, seen: now });
      else this.failures.push(...left);
    }
    if (this.doubtful.length > 0) await this.tryAgain(tries - 1);
  }

  /** Says how a step ended. What it prints is kept and shown at its end, since others run beside it. */
  async #carryOut(name, work) {
    const began = Date.now();
    let output = '';
    const run = (command, args, options = {}) => this.#run(command, args, options, (text) => (output += text));
    let counted = { passed: 0, failed: [name], brokeOff: true };
    try {
      counted = { brokeOff: false, ...(await work(run)) };
    } catch (error) {
      output += `${error?.stack ?? error}\n`;
    }
    const seconds = Math.round((Date.now() - began) / 1000);
    const how = counted.failed.length === 0 ? 'ok' : 'FAILED';
    say(`\n— ${name}\n${output.trimEnd()}${output.trim() ? '\n' : ''}— ${name}: ${how} (${seconds} s)`);
    return counted;
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
