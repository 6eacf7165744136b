import {
  circuitIds,
  deviceClasses,
  outcomeGrades,
  type CircuitId,
  type DeviceClass,
  type OutcomeGrade,
} from '../catalogue/index.ts';
import { Words, withRoom } from './columns.ts';
import { SignatureIndex, type Neighbour } from './search.ts';
import { modelKey, type LibraryCase, type Signature } from './signature.ts';

/** Which cases of a shelf are meant: all of what is named must hold. */
interface CaseFilter {
  /** Id of a case that does not count. */
  without?: string;
  /** Milliseconds since 1970: only cases that were confirmed before. */
  before?: number | null;
  deviceClass?: DeviceClass;
  /** A model that does not count, as {@link modelKey} has it. */
  notModel?: string;
}

const none = -1;

/**
 * Confirmed cases, packed in columns: some hundred bytes a case beside its signatures. A case has a place, which stays its own
 * until it is taken out.
 */
export class CaseShelf {
  private readonly signatures = new SignatureIndex();
  private readonly words = new Words();
  private readonly ids = new Map<string, number>();
  private readonly free: number[] = [];
  private readonly models = new Map<string, Set<number>>();
  private highest = 0;
  // By place; a case that was taken out has the weight NaN.
  private idOf: string[] = [];
  private says: string[] = [];
  private text = {
    origin: new Uint32Array(0),
    model: new Uint32Array(0),
    modelKey: new Uint32Array(0),
    element: new Uint32Array(0),
    part: new Uint32Array(0),
    cure: new Uint32Array(0),
  };
  private kind = { deviceClass: new Uint8Array(0), circuit: new Uint8Array(0), grade: new Uint8Array(0) };
  private weight = new Float64Array(0);
  private closedAt = new Float64Array(0);
  private firstRun = new Int32Array(0);
  // By run.
  private caseOfRun = new Uint32Array(0);
  private nextRun = new Int32Array(0);

  /** @param cases as they are; the shelf keeps none of these objects */
  constructor(cases: Iterable<LibraryCase> = []) {
    for (const one of cases) this.put(one);
  }

  /** How many cases it holds, and how many runs. */
  get size(): number {
    return this.ids.size;
  }
  get runs(): number {
    return this.signatures.size;
  }

  /** What its lists take, in bytes; words are not counted. */
  get bytes(): number {
    const lists = [...Object.values(this.text), ...Object.values(this.kind), this.weight, this.closedAt, this.firstRun];
    return [...lists, this.caseOfRun, this.nextRun].reduce((sum, l) => sum + l.byteLength, this.signatures.bytes);
  }

  /** Takes a case in, in place of the one with its id. */
  put(one: LibraryCase): void {
    this.forget(one.id);
    const at = this.free.pop() ?? this.highest++;
    this.makeRoom();
    this.ids.set(one.id, at);
    this.idOf[at] = one.id;
    this.says[at] = one.says;
    const key = modelKey(one.model);
    const texts = { ...one, origin: one.origin === null ? '' : `from ${one.origin}`, modelKey: key };
    for (const column of Object.keys(this.text) as (keyof typeof this.text)[])
      this.text[column][at] = this.words.numberOf(texts[column]);
    this.kind.deviceClass[at] = deviceClasses.indexOf(one.deviceClass);
    this.kind.circuit[at] = circuitIds.indexOf(one.circuit);
    this.kind.grade[at] = outcomeGrades.indexOf(one.grade);
    this.weight[at] = one.weight;
    this.closedAt[at] = one.closedAt;
    this.firstRun[at] = none;
    // The list of runs is linked from its first: the last goes in first.
    for (const signature of [...one.signatures].reverse()) {
      const run = this.signatures.add(signature);
      this.caseOfRun = withRoom(this.caseOfRun, run + 1);
      this.nextRun = withRoom(this.nextRun, run + 1);
      this.caseOfRun[run] = at;
      this.nextRun[run] = this.firstRun[at];
      this.firstRun[at] = run;
    }
    const alike = this.models.get(key);
    if (alike) alike.add(at);
    else this.models.set(key, new Set([at]));
  }

  /** Takes a case out; nothing happens where it is not there. */
  forget(id: string): void {
    const at = this.ids.get(id);
    if (at === undefined) return;
    for (let run = this.firstRun[at]; run !== none; run = this.nextRun[run]) this.signatures.remove(run);
    const key = this.words.word(this.text.modelKey[at]);
    this.models.get(key)?.delete(at);
    if (this.models.get(key)?.size === 0) this.models.delete(key);
    this.weight[at] = Number.NaN;
    this.ids.delete(id);
    this.free.push(at);
  }

  /** The case at a place. */
  caseAt(at: number): LibraryCase {
    const text = (column: keyof typeof this.text): string => this.words.word(this.text[column][at]);
    const origin = text('origin');
    return {
      id: this.idOf[at],
      origin: origin === '' ? null : origin.slice('from '.length),
      model: text('model'),
      deviceClass: deviceClasses[this.kind.deviceClass[at]],
      circuit: circuitIds[this.kind.circuit[at]] as CircuitId,
      element: text('element'),
      part: text('part'),
      cure: text('cure'),
      grade: outcomeGrades[this.kind.grade[at]] as OutcomeGrade,
      weight: this.weight[at],
      closedAt: this.closedAt[at],
      says: this.says[at],
      signatures: this.signaturesAt(at),
    };
  }

  /** Every case, in no order. */
  *[Symbol.iterator](): Generator<LibraryCase> {
    for (const at of this.ids.values()) yield this.caseAt(at);
  }

  private signaturesAt(at: number): Signature[] {
    const list: Signature[] = [];
    for (let run = this.firstRun[at]; run !== none; run = this.nextRun[run])
      list.push(this.signatures.signatureOf(run));
    return list;
  }

  /** Cases of a model that teach something, those that were confirmed last, the oldest of them first. */
  ofModel(key: string, count: number, filter: CaseFilter): LibraryCase[] {
    const counts = this.filtered(filter);
    return [...(this.models.get(key) ?? [])]
      .filter(counts)
      .sort((a, b) => this.closedAt[a] - this.closedAt[b] || a - b)
      .slice(-count)
      .map((at) => this.caseAt(at));
  }

  /** The places of the cases whose runs are the nearest to one: see {@link SignatureIndex.nearest}. */
  near(query: Signature, count: number, filter: CaseFilter = {}): number[] {
    const counts = this.filtered(filter);
    const among = (run: number): boolean => counts(this.caseOfRun[run]);
    return this.signatures.nearest(query, count, { among }).map(({ run }: Neighbour) => this.caseOfRun[run]);
  }

  /** Whether the case at a place counts; one that teaches nothing never does. */
  private filtered({ without, before, deviceClass, notModel }: CaseFilter): (at: number) => boolean {
    const self = without === undefined ? none : (this.ids.get(without) ?? none);
    const until = before ?? Number.POSITIVE_INFINITY;
    const kind = deviceClass === undefined ? none : deviceClasses.indexOf(deviceClass);
    const model = notModel === undefined ? none : this.words.find(notModel);
    return (at) =>
      at !== self &&
      this.weight[at] > 0 &&
      this.closedAt[at] < until &&
      (kind === none || this.kind.deviceClass[at] === kind) &&
      (model === none || this.text.modelKey[at] !== model);
  }

  private makeRoom(): void {
    const n = this.highest;
    for (const column of Object.keys(this.text) as (keyof typeof this.text)[])
      this.text[column] = withRoom(this.text[column], n);
    for (const column of Object.keys(this.kind) as (keyof typeof this.kind)[])
      this.kind[column] = withRoom(this.kind[column], n);
    this.weight = withRoom(this.weight, n);
    this.closedAt = withRoom(this.closedAt, n);
    this.firstRun = withRoom(this.firstRun, n);
  }
}
