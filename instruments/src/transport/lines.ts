/** The longest line that an instrument may send; more without an end is no answer. */
const longestLine = 4096;

/**
 * Cuts what arrives into lines, whatever the pieces it arrives in. A line ends with CR, LF or both; empty lines are left
 * out. What runs on for too long without an end is dropped and counted.
 */
export class LineCutter {
  private rest = '';
  private dropping = false;
  /** Lines that were too long. */
  dropped = 0;

  constructor(private readonly onLine: (line: string) => void) {}

  /** Something was left out here: what comes up to the next end of a line is no whole line. */
  skip(): void {
    this.rest = '';
    this.dropping = true;
  }

  push(piece: string): void {
    const parts = (this.rest + piece).split(/[\r\n]+/);
    this.rest = parts.pop() ?? '';
    for (const part of parts) {
      if (this.dropping) this.dropping = false;
      else if (part.length > longestLine) this.dropped++;
      else if (part !== '') this.onLine(part);
    }
    if (this.rest.length <= longestLine) return;
    if (!this.dropping) this.dropped++;
    this.dropping = true;
    this.rest = '';
  }
}
