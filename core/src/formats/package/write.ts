import { ZipWriter } from '@zip.js/zip.js';
import { keysOfNotes, type Case, type Extra } from '../../case/index.ts';
import type { Trace } from '../../trace/index.ts';
import { logHeader, writeLog } from '../log/index.ts';
import { caseFormat } from './parse.ts';

export interface PackedFile {
  name: string;
  content: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}

type Samples = Pick<Trace, 't' | 'v' | 'i'>;

export interface RunContent {
  /** Samples as shown by the instrument, block after block. */
  blocks: AsyncIterable<Samples> | Iterable<Samples>;
  /** Start of the recording, ISO 8601, where known. */
  startedAt: string | null;
}

/** Puts kept keys back in their places. */
function withExtra<T extends { extra?: Extra }>(value: T): Omit<T, 'extra'> {
  const { extra, ...known } = value;
  return { ...known, ...extra };
}

/** `case.json` of a case, kept keys included. */
export function caseJson(value: Case): Record<string, unknown> {
  const { extra, ...known } = value;
  return {
    format: caseFormat,
    ...known,
    device: { ...withExtra(value.device), expect: withExtra(value.device.expect) },
    intake: withExtra(value.intake),
    runs: value.runs.map((run) => ({
      ...withExtra(run),
      instrument: withExtra(run.instrument),
      setup: withExtra(run.setup),
      contract: run.contract,
      markers: run.markers.map((m) => withExtra(m)),
    })),
    checks: value.checks.map(withExtra),
    readings: value.readings.map(withExtra),
    injections: value.injections.map(withExtra),
    actions: value.actions.map((action) => {
      const { id, kind, circuit, target, note, runBefore, undoes, at, void: isVoid, planned } = action;
      const entered = { ...(at && { at }), ...(isVoid && { void: isVoid }), ...(planned && { planned }) };
      return { id, kind, circuit, target, note, runBefore, undoes, ...entered, ...keysOfNotes(action) };
    }),
    proofs: value.proofs.map(withExtra),
    outcome: value.outcome === null ? null : withExtra(value.outcome),
    ...extra,
  };
}

const fields = [
  { name: 't_s', type: 'number', unit: 's', description: 'time after the first row' },
  { name: 'voltage_V', type: 'number', unit: 'V', description: 'voltage at the feed' },
  { name: 'current_A', type: 'number', unit: 'A', description: 'current drawn' },
];

/**
 * The files of a package: `case.json`, a table a run that has samples, and the `datapackage.json` that describes them
 * (Frictionless Data Package). Runs that were typed stay typed.
 *
 * @param contentOf the samples of a run with a file, as shown by its instrument
 */
export function packageFiles(value: Case, contentOf: (runId: string) => RunContent): PackedFile[] {
  const encoder = new TextEncoder();
  const json = (content: unknown): Uint8Array[] => [encoder.encode(`${JSON.stringify(content, null, 2)}\n`)];
  const runs = value.runs.map((run, k) => ({
    ...run,
    file: run.typed === null ? `runs/${fileName(run.id, k)}.csv` : null,
  }));
  const tables = runs.filter((run) => run.file !== null);
  const files: PackedFile[] = [
    { name: 'case.json', content: json(caseJson({ ...value, runs })) },
    ...tables.map((run) => ({ name: run.file ?? '', content: encodeAll(contentOf(run.id).blocks, encoder) })),
  ];
  const resources = tables.map((run, k) => ({
    name: `run-${k + 1}`,
    path: run.file,
    profile: 'tabular-data-resource',
    format: 'csv',
    mediatype: 'text/csv',
    encoding: 'utf-8',
    schema: { fields, missingValues: [''] },
    ...(contentOf(run.id).startedAt === null ? {} : { startedAt: contentOf(run.id).startedAt }),
  }));
  const caseResource = { name: 'case', path: 'case.json', format: 'json', mediatype: 'application/json' };
  files.push({
    name: 'datapackage.json',
    content: json({
      name: packageName(value.id),
      profile: 'data-package',
      resources: resources.length > 0 ? [...resources, caseResource] : [caseResource],
    }),
  });
  return files;
}

function fileName(id: string, index: number): string {
  const safe = id.replace(/[^a-zA-Z0-9_-]+/g, '-').slice(0, 40);
  return `${String(index + 1).padStart(2, '0')}-${safe || 'run'}`;
}

function packageName(id: string): string {
  return `umbral-case-${
    id
      .toLowerCase()
      .replace(/[^a-z0-9._-]+/g, '-')
      .slice(0, 60) || 'unnamed'
  }`;
}

async function* encodeAll(blocks: RunContent['blocks'], encoder: TextEncoder): AsyncGenerator<Uint8Array> {
  yield encoder.encode(logHeader);
  for await (const block of blocks) for (const rows of writeLog(block)) yield encoder.encode(rows);
}

/** Files as one zip, as a stream: memory does not grow with the files, nor with their number where they come one by one. */
export function streamZip(files: Iterable<PackedFile> | AsyncIterable<PackedFile>): ReadableStream<Uint8Array> {
  const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>();
  const writer = new ZipWriter(writable, { useWebWorkers: false });
  const write = async (): Promise<void> => {
    for await (const file of files) await writer.add(file.name, streamOf(file.content));
    await writer.close();
  };
  write().catch((error: unknown) => writable.abort(error).catch(() => undefined));
  return readable;
}

function streamOf(content: PackedFile['content']): ReadableStream<Uint8Array> {
  const iterator = (async function* () {
    yield* content;
  })();
  return new ReadableStream<Uint8Array>({
    pull: async (controller) => {
      const { done, value } = await iterator.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    cancel: async () => void (await iterator.return(undefined)),
  });
}

/** Files as one zip in memory. */
export async function writeZip(files: PackedFile[]): Promise<Uint8Array> {
  return new Uint8Array(await new Response(streamZip(files)).arrayBuffer());
}
