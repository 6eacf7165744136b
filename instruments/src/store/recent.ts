import type { SampleBlock } from './samples.ts';

/** The last samples of a recording, in room that never grows. */
export class Recent {
  private readonly t: Float64Array;
  private readonly v: Float32Array;
  private readonly i: Float32Array;
  /** Samples that were added, those that are forgotten included. */
  rows = 0;

  /** @param room how many samples are remembered */
  constructor(private readonly room: number) {
    this.t = new Float64Array(room);
    this.v = new Float32Array(room);
    this.i = new Float32Array(room);
  }

  add(t: number, v: number, i: number): void {
    const at = this.rows++ % this.room;
    this.t[at] = t;
    this.v[at] = v;
    this.i[at] = i;
  }

  /**
   * What was added from a row on.
   *
   * @returns null where some of it is forgotten
   */
  since(row: number): SampleBlock | null {
    const count = this.rows - row;
    if (row < 0 || count < 0 || count > this.room) return null;
    const block = { t: new Float64Array(count), v: new Float32Array(count), i: new Float32Array(count) };
    for (let k = 0; k < count; k++) {
      const at = (row + k) % this.room;
      block.t[k] = this.t[at];
      block.v[k] = this.v[at];
      block.i[k] = this.i[at];
    }
    return block;
  }
}
