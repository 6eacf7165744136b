/** Something outside Umbral is not as it should be: what, where, and what was expected. Shown to people as it is. */
export class FormatError extends Error {
  override readonly name = 'FormatError';
  /** File the problem is in, as the user knows it; empty where there is no file. */
  readonly file: string;
  /** Place within the file: a path such as `runs[1].setup.limitA`, a line, a column; empty for the whole. */
  readonly place: string;
  readonly problem: string;

  constructor(file: string, place: string, problem: string) {
    super([file, place, problem].filter(Boolean).join(': '));
    this.file = file;
    this.place = place;
    this.problem = problem;
  }
}
