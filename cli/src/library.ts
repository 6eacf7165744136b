import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { createInterface } from 'node:readline';
import {
  circuitNames,
  deviceClasses,
  FormatError,
  isGrade,
  Library,
  unpackSignature,
  type CircuitId,
  type DeviceClass,
  type LibraryCase,
  type SignatureSetup,
} from '@umbral/core';

const format = 'umbral-library/1';
const maxLine = 1_000_000;

type Fields = Record<string, unknown>;

/**
 * Reads the confirmed cases of an exported library. Its signature is the server's business; here every line must be whole.
 *
 * @throws {FormatError} with the line and what was expected
 */
export async function readLibrary(path: string): Promise<Library> {
  const file = basename(path);
  const cases: LibraryCase[] = [];
  let n = 0;
  for await (const text of createInterface({ input: createReadStream(path), crlfDelay: Infinity })) {
    n++;
    if (text.trim() === '') continue;
    if (text.length > maxLine) throw new FormatError(file, `line ${n}`, `is longer than ${maxLine} characters`);
    const line = parsed(file, n, text);
    if (n === 1 && line.format !== format)
      throw new FormatError(file, 'line 1', `is not a library; expected "format": "${format}"`);
    if (line.case !== undefined) cases.push(caseOf(file, n, line.case, cases.length));
  }
  if (n === 0) throw new FormatError(file, '', `is empty; expected a library, "format": "${format}"`);
  return new Library(cases);
}

function parsed(file: string, n: number, text: string): Fields {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new FormatError(file, `line ${n}`, 'is not JSON; expected one object per line');
  }
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    throw new FormatError(file, `line ${n}`, 'expected a JSON object');
  return value as Fields;
}

function caseOf(file: string, n: number, raw: unknown, k: number): LibraryCase {
  const fail = (what: string): never => {
    throw new FormatError(
      file,
      `line ${n}: case${what === '' ? '' : `.${what.split(' ')[0]}`}`,
      what.split(' ').slice(1).join(' ') || 'expected an object',
    );
  };
  if (raw === null || typeof raw !== 'object' || Array.isArray(raw)) return fail('');
  const c = raw as Fields;
  const text = (key: string): string => (typeof c[key] === 'string' ? (c[key] as string) : '');
  if (!Object.hasOwn(circuitNames, text('circuit'))) fail('circuit expected a circuit');
  if (!deviceClasses.includes(text('deviceClass') as DeviceClass))
    fail(`deviceClass expected one of ${deviceClasses.join(', ')}`);
  const { grade, weight } = c;
  if (typeof grade !== 'string' || !isGrade(grade)) return fail('grade expected a grade of outcome');
  if (typeof weight !== 'number' || !(weight >= 0 && weight <= 1)) return fail('weight expected a number from 0 to 1');
  const runs = Array.isArray(c.runs) ? (c.runs as (Fields | null)[]) : fail('runs expected a list');
  return {
    id: text('id') || `case ${k + 1}`,
    origin: null,
    model: text('model'),
    deviceClass: text('deviceClass') as DeviceClass,
    circuit: text('circuit') as CircuitId,
    element: text('element'),
    part: text('part'),
    cure: text('cure'),
    grade,
    weight,
    closedAt: Date.parse(`${text('month') || '2000-01'}-01`) || 0,
    says: text('element') || circuitNames[text('circuit') as CircuitId],
    signatures: runs.map((run, r) => {
      if (run === null || typeof run !== 'object') return fail(`runs[${r}] expected an object`);
      if (run.setup === null || typeof run.setup !== 'object') return fail(`runs[${r}].setup expected an object`);
      try {
        return unpackSignature(String(run.run), run.setup as SignatureSetup, Buffer.from(String(run.data), 'base64'));
      } catch (error) {
        return fail(`runs[${r}].data ${(error as Error).message}`);
      }
    }),
  };
}
