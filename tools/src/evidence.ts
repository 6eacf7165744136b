import {
  unrecognised,
  type CircuitId,
  type PatternId,
  FormatError,
  readJson,
  readWhole,
  type PackageFiles,
} from '@umbral/core';

/** What is known of a case of the evidence: its circuit, and what an expert accepts at each stage of the work. */
export interface CaseTruth {
  id: string;
  family: 'practice' | 'systematic' | 'odd';
  circuit: CircuitId;
  accept: Record<`stage${0 | 1 | 2}`, CircuitId[]>;
  /** By run: accepted patterns, and the stage from which on the run is there. */
  patterns: Record<string, PatternId[]>;
  runStages: Record<string, number>;
}

/** A repair that grows step by step, with what an expert insists on after each. */
export interface Story {
  id: string;
  title: string;
  device: { expect?: object };
  complaint?: string;
  complaintKind?: string;
  intake?: object;
  /** Folder of its logs, where it is not named as the story. */
  files?: string;
  steps: { say: string; add?: Record<string, unknown>; expect: StoryExpectation }[];
}

export interface StoryExpectation {
  cause?: {
    first?: string[];
    top3?: string[];
    atLeast?: Record<string, number>;
    atMost?: Record<string, number>;
    rises?: string[];
    falls?: string[];
  };
  pattern?: Record<string, string[]>;
  now?: Record<string, number>;
  next?: { oneOf?: Record<string, unknown>[]; within?: number; never?: Record<string, unknown>[] };
  warns?: string[];
}

/** Of an assessment in its file format, what evidence is held against. */
export interface Answer {
  circuits: { id: string; p: number }[];
  runs: { id: string; pattern: { id: string; p: number }[] }[];
  now?: { id: string; p: number }[] | null;
  next: (Record<string, unknown> & { circuit?: string; action?: { kind?: string; circuit?: string } })[];
  warnings: string[];
}

/** One expectation of a step, and whether it held. */
export interface Held {
  what: string;
  holds: boolean;
}

/** No file of the evidence that is read as a whole is as large. */
const maxBytes = 10_000_000;
const encoder = new TextEncoder();
const lists = ['runs', 'checks', 'readings', 'actions', 'injections'] as const;

async function jsonIn<T>(files: PackageFiles, name: string): Promise<T> {
  const bytes = (await files.stat(name)) && (await readWhole(files, name, maxBytes));
  if (bytes === null) throw new FormatError(name, '', 'the evidence does not hold this file');
  return readJson(bytes, name) as T;
}

/** The cases of `evidence/cases.zip` with their truth. */
export const readTruth = async (files: PackageFiles): Promise<CaseTruth[]> =>
  (await jsonIn<{ cases: CaseTruth[] }>(files, 'truth.json')).cases;

/** The files of one case at one stage. */
export function caseFiles(files: PackageFiles, id: string, stage: number): PackageFiles {
  const inside = (name: string): string => `cases/${id}/stage${stage}/${name}`;
  return { remarks: [], stat: (name) => files.stat(inside(name)), open: (name) => files.open(inside(name)) };
}

/** The repairs of `evidence/stories.zip`, or of those that were entered as people at a bench speak. */
export async function readStories(files: PackageFiles): Promise<Story[]> {
  const names = await jsonIn<string[]>(files, 'index.json');
  return Promise.all(names.map((name) => jsonIn<Story>(files, `${name}.json`)));
}

/** A repair after its first `n` steps, as a case package. */
export function storyFiles(files: PackageFiles, story: Story, n: number): PackageFiles {
  const value: Record<string, unknown> = {
    format: 'umbral-case/1',
    id: story.id,
    device: { ...story.device },
    complaint: story.complaint ?? '',
    complaintKind: story.complaintKind ?? 'other',
    intake: { ...story.intake },
  };
  const entries = Object.fromEntries(lists.map((list) => [list, [] as unknown[]]));
  for (const { add = {} } of story.steps.slice(0, n)) {
    Object.assign(value.intake as object, add.intake ?? {});
    value.device = {
      ...story.device,
      expect: { ...(value.device as Story['device']).expect, ...(add.expect as object) },
    };
    for (const list of lists) entries[list].push(...((add[list] ?? []) as unknown[]));
  }
  const text = encoder.encode(JSON.stringify({ ...value, ...entries }));
  const inside = (name: string): string => `${story.files ?? story.id}/${name.split('/').at(-1)}`;
  const own = async function* (): AsyncGenerator<Uint8Array> {
    yield text;
  };
  return {
    remarks: [],
    stat: (name) =>
      name === 'case.json' ? Promise.resolve({ size: text.length, link: false }) : files.stat(inside(name)),
    open: (name) => (name === 'case.json' ? own() : files.open(inside(name))),
  };
}

const byP = <T extends { p: number }>(list: readonly T[]): T[] => [...list].sort((a, b) => b.p - a.p);

/** Whether a proposal is what is meant: every field that is named, and words anywhere in it. */
function isLike(item: Answer['next'][number], like: Record<string, unknown>): boolean {
  return Object.entries(like).every(([key, value]) => {
    if (key === 'text') return JSON.stringify(item).toLowerCase().includes(String(value).toLowerCase());
    if (key === 'actionKind') return item.action?.kind === value;
    if (key === 'circuit') return (item.action?.circuit ?? item.circuit) === value;
    return item[key] === value;
  });
}

/**
 * Holds what an expert insists on against an answer.
 *
 * @param before the answer after the step before; null at the first
 */
export function heldBy(expected: StoryExpectation, answer: Answer, before: Answer | null): Held[] {
  const { cause = {}, pattern = {}, now = {}, next = {}, warns = [] } = expected;
  const circuits = byP(answer.circuits);
  const pIn = (a: Answer | null, id: string): number => a?.circuits.find((c) => c.id === id)?.p ?? 0;
  const top3 = circuits.slice(0, 3).map((c) => c.id);
  const moves = (ids: readonly string[] = [], sign: number, word: string): Held[] =>
    ids.map((id) => ({
      what: `${id} ${word}`,
      holds: before !== null && sign * (pIn(answer, id) - pIn(before, id)) > 0,
    }));
  const proposed = (list: readonly Record<string, unknown>[], within: number): boolean =>
    answer.next.slice(0, within).some((item) => list.some((like) => isLike(item, like)));
  return [
    ...(cause.first ? [{ what: `first: ${cause.first.join(' or ')}`, holds: cause.first.includes(top3[0]) }] : []),
    ...(cause.top3
      ? [{ what: `among three: ${cause.top3.join(' or ')}`, holds: top3.some((id) => cause.top3!.includes(id)) }]
      : []),
    ...Object.entries(cause.atLeast ?? {}).map(([id, p]) => ({
      what: `${id} at least ${p}`,
      holds: pIn(answer, id) >= p,
    })),
    ...Object.entries(cause.atMost ?? {}).map(([id, p]) => ({
      what: `${id} at most ${p}`,
      holds: pIn(answer, id) <= p,
    })),
    ...moves(cause.rises, 1, 'rises'),
    ...moves(cause.falls, -1, 'falls'),
    ...Object.entries(pattern).map(([run, ids]) => {
      const top = byP(answer.runs.find((r) => r.id === run)?.pattern ?? [])[0];
      return { what: `pattern of ${run}: ${ids.join(' or ')}`, holds: top !== undefined && ids.includes(top.id) };
    }),
    ...Object.entries(now).map(([id, p]) => ({
      what: `now ${id} at least ${p}`,
      holds: (answer.now?.find((x) => x.id === id)?.p ?? -1) >= p,
    })),
    ...(next.oneOf
      ? [{ what: `next: ${JSON.stringify(next.oneOf)}`, holds: proposed(next.oneOf, next.within ?? 1) }]
      : []),
    ...(next.never ?? []).map(({ within, ...never }) => ({
      what: `never next: ${JSON.stringify(never)}`,
      holds: !proposed([never], typeof within === 'number' ? within : Infinity),
    })),
    ...warns.map((words) => ({
      what: `a warning says "${words}"`,
      holds: answer.warnings.some((w) => w.toLowerCase().includes(words.toLowerCase())),
    })),
  ];
}

/** How an answer stands to the truth of a case at a stage. */
interface CaseHeld {
  stage: number;
  family: CaseTruth['family'];
  isOdd: boolean;
  accepted: boolean;
  acceptedOfThree: boolean;
  exact: boolean;
  /** Percentage that the first suspect got, from 0 to 1. */
  said: number;
  /** Percentage of the very circuit, from 0 to 1. */
  pTrue: number;
  /** Over 80 % for a circuit that nobody accepts. */
  isFalselyCertain: boolean;
  /** "Unmodelled" among the first three, or a pattern without a name. */
  saysUnknown: boolean;
  patterns: boolean[];
}

/** Holds an answer against the truth of a case. */
export function heldByTruth(truth: CaseTruth, stage: 0 | 1 | 2, answer: Answer): CaseHeld {
  const accept: string[] = truth.accept[`stage${stage}`];
  const circuits = byP(answer.circuits);
  const [first] = circuits;
  const top = (run: string): { id: string; p: number }[] => byP(answer.runs.find((r) => r.id === run)?.pattern ?? []);
  const accepted = accept.includes(first.id);
  return {
    stage,
    family: truth.family,
    isOdd: truth.family === 'odd',
    accepted,
    acceptedOfThree: circuits.slice(0, 3).some((c) => accept.includes(c.id)),
    exact: first.id === truth.circuit,
    said: first.p,
    pTrue: circuits.find((c) => c.id === truth.circuit)?.p ?? 0,
    isFalselyCertain: first.p > 0.8 && !accepted,
    saysUnknown:
      circuits.slice(0, 3).some((c) => c.id === 'unmodelled') ||
      answer.runs.some((r) =>
        top(r.id)
          .slice(0, 3)
          .some((p) => p.id === unrecognised && p.p > 0),
      ),
    patterns: Object.entries(truth.patterns)
      .filter(([run]) => truth.runStages[run] <= stage)
      .map(([run, ids]) => ids.includes((top(run)[0]?.id ?? '') as PatternId)),
  };
}
