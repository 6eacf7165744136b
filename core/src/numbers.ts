import described from './numbers.json';

/** What a file of numbers holds. */
interface NumberFile {
  holds: string;
  /** Of its numbers; several where they differ by name. */
  unit: string;
  /** What they rest on: practice at benches, a standard, the populations, cases of the evidence, the method itself, or a shop's choice. */
  from: string;
}

/** Every file of numbers that the core goes by, as a path under its sources; `cli` holds that none is missing. */
export const numberFiles: Readonly<Record<string, NumberFile>> = described.files;
