import { rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { say } from './run.mjs';

const { writeWhole } = createRequire(import.meta.url)('../../instruments/plain/write-whole.cjs');

/** How the parts are that the start command keeps running: a file in the data folder that pages read. */
export class Status {
  constructor(folder) {
    this.path = join(folder, 'status.json');
    this.parts = {};
    this.write();
  }

  /** Takes what {@link keepRunning} tells of a part. */
  of(part) {
    return ({ state, why, restarts }) => {
      this.parts[part] = { state, why, restarts, since: new Date().toISOString() };
      this.write();
    };
  }

  write() {
    try {
      writeWhole(this.path, JSON.stringify({ pid: process.pid, parts: this.parts }), 0o644);
    } catch (error) {
      // What runs goes on; only the page that shows how it is knows less.
      say(`The state of the parts could not be written: ${error.message}`);
    }
  }

  remove() {
    rmSync(this.path, { force: true });
  }
}
