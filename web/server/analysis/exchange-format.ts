import { createHash, createPublicKey, verify } from 'node:crypto';
import {
  circuitIds,
  deviceClasses,
  feeds,
  outcomeGrades,
  patternIds,
  readInput,
  signatureFormat,
  unpackSignature,
} from '@umbral/core';
import * as yup from 'yup';
import { boardFile } from './board-format.ts';
import { ExpectedError } from '../record/errors.ts';

export const format = `umbral-library/${signatureFormat}`;
/** A library of a hundred thousand runs is smaller; what is larger is none, or too much for one shop. */
export const maxBytes = 256 * 1024 * 1024;
export const maxCases = 200_000;

/** The first line of a library: what it is, whose, and what the lines after it are signed by. */
const headerInput = yup.object({
  format: yup.string().required('format: is missing'),
  shop: yup.string().trim().max(120, 'shop: at most 120 characters').required('shop: is missing'),
  licence: yup.string().trim().max(500, 'licence: at most 500 characters').required('licence: is missing'),
  madeAt: yup.date().required('madeAt: is missing'),
  publicKey: yup.string().max(500).required('publicKey: is missing'),
  sha256: yup
    .string()
    .matches(/^[0-9a-f]{64}$/, 'sha256: is not a SHA-256')
    .required('sha256: is missing'),
  signature: yup.string().max(500).required('signature: is missing'),
});
export type Header = yup.InferType<typeof headerInput>;

export const name = (max: number) => yup.string().max(max).defined();
const runInput = yup.object({
  run: name(40),
  feed: yup.string().oneOf(feeds).required(),
  pattern: yup.string().oneOf(patternIds).nullable().defined(),
  setup: yup
    .object({
      feed: yup.string().oneOf(feeds).required(),
      quantity: yup.string().oneOf(['current', 'voltage-only']).required(),
      battery: yup.boolean().strict().required(),
      prompted: yup.boolean().strict().required(),
      otherwise: name(400),
      port: yup.number().integer().min(1).max(20).required(),
      flipped: yup.boolean().strict().required(),
    })
    .noUnknown(),
  data: name(4000),
  outline: yup.array().of(yup.number().min(0).max(1000).required()).max(100).required(),
  amps: yup.number().min(0).max(1000).nullable().defined(),
  volts: yup.number().min(0).max(1000).nullable().defined(),
});
const caseInput = yup.object({
  id: name(80).required(),
  model: name(120),
  deviceClass: yup.string().oneOf(deviceClasses).required(),
  circuit: yup.string().oneOf(circuitIds).required(),
  element: name(200),
  part: name(200),
  cure: name(300),
  grade: yup.string().oneOf(outcomeGrades).required(),
  weight: yup.number().min(0).max(1).required(),
  pattern: yup.string().oneOf(patternIds).nullable().defined(),
  month: yup
    .string()
    .matches(/^\d{4}-\d{2}$/, 'month: expected such as 2026-04')
    .required(),
  runs: yup.array().of(runInput.required()).max(40).required(),
});
const noteInput = yup.object({
  model: name(120),
  deviceClass: yup.string().oneOf(deviceClasses).required(),
  feed: yup.string().oneOf(feeds).nullable().defined(),
  volts: yup.number().min(0).max(1000).nullable().defined(),
  amps: yup.number().min(0).max(1000).nullable().defined(),
  setup: name(200),
  circuit: yup.string().oneOf(circuitIds).required(),
  element: name(200),
  hits: yup.number().integer().min(0).required(),
  of: yup.number().integer().min(1).required(),
});
const lineInput = yup.object({
  board: boardFile.optional().default(undefined),
  case: caseInput.optional().default(undefined),
  note: noteInput.optional().default(undefined),
});

/** The groups of a key's fingerprint, as one person reads them to another. */
export function fingerprintOf(publicKey: string): string {
  const der = createPublicKey(publicKey).export({ type: 'spki', format: 'der' });
  return createHash('sha256')
    .update(der)
    .digest('hex')
    .slice(0, 32)
    .replace(/(.{4})(?!$)/g, '$1 ');
}

export const signedText = (h: Pick<Header, 'format' | 'shop' | 'licence' | 'madeAt' | 'sha256'>): string =>
  JSON.stringify([h.format, h.shop, h.licence, h.madeAt.toISOString(), h.sha256]);

export const refused = (fileName: string, problem: string): ExpectedError =>
  new ExpectedError('input', `${fileName}: ${problem}. Nothing was saved.`);

export async function headerOf(fileName: string, blocks: AsyncIterable<Uint8Array>): Promise<Header> {
  let text = '';
  const decoder = new TextDecoder();
  for await (const block of blocks) {
    text += decoder.decode(block, { stream: true });
    if (text.includes('\n') || text.length > 10_000) break;
  }
  const line = text.split('\n', 1)[0];
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch {
    throw refused(fileName, 'is not a library; expected a first line with its owner');
  }
  const said = (value as { format?: unknown } | null)?.format;
  if (typeof said === 'string' && said.startsWith('umbral-library/') && said !== format)
    throw refused(
      fileName,
      `has another version (${said.slice(0, 40)}); this one reads ${format}. Ask for a new export`,
    );
  if (said !== format) throw refused(fileName, 'is not a library; expected a first line with its owner');
  return readInput(headerInput, value);
}

/** Fingerprint of the key, where the signature of the first line is by it. */
export function keyOf(fileName: string, header: Header): string {
  try {
    const key = createPublicKey(header.publicKey);
    if (verify(null, Buffer.from(signedText(header)), key, Buffer.from(header.signature, 'base64')))
      return fingerprintOf(header.publicKey);
  } catch {
    throw refused(fileName, 'publicKey: cannot be read; the file is damaged');
  }
  throw refused(fileName, 'its signature does not match; the file was changed or damaged after signing');
}

export type Line = yup.InferType<typeof lineInput>;

export function lineOf(fileName: string, n: number, text: string): Line {
  try {
    const line = readInput(lineInput, JSON.parse(text), { stripUnknown: true });
    for (const run of line.case?.runs ?? [])
      unpackSignature(run.run, run.setup as never, Buffer.from(run.data, 'base64'));
    return line;
  } catch (error) {
    const problem =
      error instanceof yup.ValidationError
        ? error.errors.join('; ')
        : error instanceof RangeError
          ? `a signature ${error.message}`
          : 'is not JSON';
    throw refused(fileName, `line ${n}: ${problem}`);
  }
}
