import { assess, describe, type Assessment } from '../../diagnosis/index.ts';
import type { DeviceClass, Feed } from '../../catalogue/index.ts';
import { readPackage, type PackageFiles } from '../../formats/index.ts';
import type { Shape } from '../../shape/index.ts';

/** An entry of a package as it stands in `case.json`; what is left out is usual. */
export type Entry = Readonly<Record<string, unknown>>;
type List = 'runs' | 'checks' | 'readings' | 'actions' | 'injections' | 'places';
export type Entries = { readonly [K in List]?: readonly Entry[] };

/** A case as a package tells it, with the logs beside it. */
export interface Draft extends Entries {
  readonly device: Entry;
  readonly intake?: Entry;
  readonly complaintKind?: string;
  readonly files?: Readonly<Record<string, string>>;
}

/** A case of which nothing is known but its class. */
export const bare = (deviceClass: DeviceClass, expect: Entry = {}, more: Partial<Draft> = {}): Draft => ({
  device: {
    class: deviceClass,
    model: 'Wrenholt P4',
    profile: null,
    ...(Object.keys(expect).length > 0 && { expect }),
  },
  complaintKind: 'no-start',
  ...more,
});

const lists: readonly List[] = ['runs', 'checks', 'readings', 'actions', 'injections', 'places'];

/** The case with entries after those it has. */
export const grow = (draft: Draft, more: Entries): Draft => ({
  ...draft,
  ...Object.fromEntries(lists.map((list) => [list, [...(draft[list] ?? []), ...(more[list] ?? [])]])),
});

export const run = (id: string, feed: Feed, typed: string, more: Entry = {}): Entry => ({ id, feed, typed, ...more });
export const volts = (where: string, circuit: string | null, value: number, more: Entry = {}): Entry => ({
  where,
  circuit,
  state: null,
  mode: 'voltage',
  value,
  unit: 'V',
  powered: true,
  ...more,
});
export const ohms = (where: string, circuit: string | null, value: number | null, more: Entry = {}): Entry => ({
  where,
  circuit,
  state: null,
  mode: 'resistance',
  value,
  unit: 'ohm',
  powered: false,
  ...more,
});
export const diode = (where: string, circuit: string | null, value: number, more: Entry = {}): Entry => ({
  ...ohms(where, circuit, value),
  mode: 'diode',
  unit: 'V',
  redProbe: 'ground',
  ...more,
});
export const check = (id: string, outcome: string, more: Entry = {}): Entry => ({ id, outcome, ...more });
export const action = (id: string, kind: string, more: Entry): Entry => ({ id, kind, ...more });

/** What is said of a draft, read as a package is and without a library. */
export async function answer(draft: Draft): Promise<Assessment> {
  const { files = {}, ...told } = draft;
  const usual = { complaint: 'does not start', intake: {}, runs: [], checks: [], readings: [], actions: [] };
  const json = JSON.stringify({ format: 'umbral-case/1', id: 'law', ...usual, injections: [], ...told });
  const { case: value, runs } = await readPackage(inMemory({ ...files, 'case.json': json }));
  const shapes = new Map<string, Shape>(runs.map((r) => [r.run.id, describe(value, r.run, r.trace, r.summary)]));
  return assess(value, shapes);
}

function inMemory(files: Readonly<Record<string, string>>): PackageFiles {
  const bytes = (name: string): Uint8Array => new TextEncoder().encode(files[name]);
  return {
    stat: (name) => Promise.resolve(name in files ? { size: bytes(name).length, link: false } : null),
    open: async function* (name) {
      yield await Promise.resolve(bytes(name));
    },
    remarks: [],
  };
}
