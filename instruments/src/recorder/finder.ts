import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import {
  bytesOfHex,
  fieldOf,
  hexOf,
  numberTypes,
  parseDialect,
  readDialect,
  shippedDialects,
  type Dialect,
} from '../dialect/index.ts';
import {
  findAt,
  guessFields,
  guessFraming,
  framesIn,
  listen,
  portsHere,
  tryInstrument,
  usualPlaces,
  type FoundAt,
  type GuessedField,
  type GuessedFraming,
  type Tried,
} from '../finding/index.ts';
import { Refusal } from '../http.ts';
import { transportOf } from '../instrument/transport-of.ts';
import { writeWhole } from '../../plain/write-whole.cjs';
import policy from './policy.json';
import { unitOf, type InstrumentSpec } from '../instrument/spec.ts';
import type { Station } from './station.ts';

/** A place where an instrument may be: a serial port with a speed, or an address. */
export type Place = Extract<InstrumentSpec['transport'], { kind: 'tcp' | 'serial' }>;

/** Where instruments may be looked for on this computer. */
export interface PlacesHere {
  /** Serial ports; `usedBy` is the instrument that is connected there, empty for none. */
  ports: { path: string; says: string; usedBy: string }[];
  /** Stand-ins of the simulated bench, as addresses. */
  standIns: { at: string; says: string }[];
  bauds: number[];
  networkPorts: number[];
}

/** What a meter sent in a while: its bytes in hexadecimal, and where pauses came before them. */
export interface Listened {
  bytes: string;
  afterPause: number[];
  guesses: GuessedFraming[];
}

/** What a display showed when a frame had arrived: that frame in hexadecimal, and the numbers as they were typed. */
export interface Look {
  frame: string;
  volts: string;
  amps: string;
}

/** What it takes to guess where values stand: everything in hexadecimal. */
export interface TaughtBytes {
  bytes: string;
  framing: GuessedFraming['framing'];
  looks: Look[];
  /** Places that somebody marked on the bytes; they go before what is guessed. */
  marked?: { volts: GuessedField | null; amps: GuessedField | null };
}

/** A place of a value, and what the last frame says there. */
export interface PlacedField {
  field: GuessedField;
  /** How many bytes it takes. */
  bytes: number;
  says: number | null;
}

/** Where the values may stand, the likeliest first, and what the last frame says by them. */
export interface GuessedFields {
  volts: PlacedField[];
  amps: PlacedField[];
  /** The last frames that came, in hexadecimal. */
  frames: string[];
}

const pauseMs = 4;

const sayable = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** Looks for instruments at a bench, tries them, and learns what they speak. Nothing is set, and no output is switched. */
export class Finder {
  constructor(
    private readonly stations: ReadonlyMap<string, Station>,
    private readonly speaks: () => { dialects: ReadonlyMap<string, Dialect>; networks: readonly string[] },
    private readonly folder: string | null,
    private readonly standIns: readonly { port: number; says: string }[] = [],
  ) {}

  async places(): Promise<PlacesHere> {
    const ports = await portsHere();
    const usedBy = (path: string): string => this.usedAt({ kind: 'serial', path, baudRate: 0 })?.spec.name ?? '';
    const standIns = this.standIns.map(({ port, says }) => ({ at: `127.0.0.1:${port}`, says }));
    return { ports: ports.map((p) => ({ ...p, usedBy: usedBy(p.path) })), standIns, ...usualPlaces };
  }

  /** @throws {Refusal} for a place that an instrument of this bench is connected at */
  find(place: Place): Promise<FoundAt> {
    this.refuseUsed(place);
    const dialects = [...this.speaks().dialects.values()];
    return findAt(this.transport(place), dialects, place.kind === 'serial' ? place.baudRate : null);
  }

  /**
   * Asks or listens to what is at a place, in one dialect.
   *
   * @throws {Refusal} with what was sent and what came, in a sentence
   */
  async try(place: Place, id: string): Promise<Tried> {
    this.refuseUsed(place);
    const dialect = this.speaks().dialects.get(id);
    if (!dialect) throw new Refusal(`There is no dialect "${id}".`);
    try {
      return await tryInstrument(this.transport(place), dialect, { unit: unitOf({ transport: place }) });
    } catch (error) {
      throw new Refusal((error as Error).message);
    }
  }

  /** @throws {Refusal} where nothing can be reached */
  async listen(place: Place, seconds: number, request: { bytes: string; everyMs: number } | null): Promise<Listened> {
    this.refuseUsed(place);
    try {
      const ask = request && { ...request, bytes: bytesOfHex(request.bytes) };
      const pieces = await listen(this.transport(place), 1000 * seconds, ask);
      const bytes = Uint8Array.from(pieces.flatMap((p) => [...p.bytes])).slice(0, policy.listenedBytes);
      const afterPause: number[] = [];
      let at = 0;
      pieces.forEach((piece, k) => {
        if (k > 0 && piece.atMs - pieces[k - 1].atMs > pauseMs) afterPause.push(at);
        at += piece.bytes.length;
      });
      return { bytes: hexOf(bytes), afterPause, guesses: guessFraming(bytes, afterPause) };
    } catch (error) {
      throw new Refusal((error as Error).message);
    }
  }

  /** Where the values stand in frames that were heard, from what the display showed. */
  guess({ bytes, framing, looks, marked }: TaughtBytes): GuessedFields {
    const frames = framesIn(bytesOfHex(bytes), framing);
    const last = frames.at(-1);
    const placed = (of: 'volts' | 'amps', most: number): PlacedField[] => {
      const shown = looks.map((l) => ({ frame: bytesOfHex(l.frame), value: l[of] }));
      const byHand = marked?.[of];
      return [...(byHand ? [byHand] : []), ...guessFields(shown, frames, most)]
        .slice(0, policy.guesses)
        .map((field) => ({
          field,
          bytes: numberTypes[field.type].bytes,
          says: last ? sayable(fieldOf(last, field)) : null,
        }));
    };
    return {
      volts: placed('volts', policy.mostShownV),
      amps: placed('amps', policy.mostShownA),
      frames: frames.slice(-policy.shownFrames).map(hexOf),
    };
  }

  /**
   * Keeps a dialect as a file of the folder; the settings have to be read again.
   *
   * @param text of the file
   * @param replaces whether one of the same id may be there
   * @throws {RangeError} with the line and the key of what is wrong
   * @throws {Refusal} for an id that is used
   */
  keep(text: string, replaces: boolean): { id: string; name: string } {
    const { id, name } = parseDialect(text);
    if (this.folder === null) throw new Refusal('This recorder has no folder for dialects.');
    if (shippedDialects.some((d) => d.id === id))
      throw new Refusal(`id: "${id}" is one that is included. Choose another.`);
    const path = join(this.folder, `${id}.json`);
    if (!replaces && (existsSync(path) || this.speaks().dialects.has(id)))
      throw new Refusal(`id: "${id}" is already used. Choose another, or replace it.`);
    mkdirSync(this.folder, { recursive: true });
    writeWhole(path, text.endsWith('\n') ? text : `${text}\n`);
    return { id, name };
  }

  /** A dialect as a file, for sharing. */
  textOf(id: string): string {
    const dialect = this.speaks().dialects.get(id);
    if (!dialect) throw new Refusal(`There is no dialect "${id}".`);
    return `${JSON.stringify(readDialect(dialect), null, 2)}\n`;
  }

  private transport(place: Place) {
    return transportOf({ name: 'The instrument', transport: place }, this.speaks().networks);
  }

  private usedAt(place: Place): Station | undefined {
    return [...this.stations.values()].find(({ spec: { transport: t } }) =>
      place.kind === 'serial'
        ? t.kind === 'serial' && t.path === place.path
        : t.kind === 'tcp' && t.host === place.host && t.port === place.port,
    );
  }

  private refuseUsed(place: Place): void {
    const used = this.usedAt(place);
    if (!used) return;
    const { spec, state } = used;
    const shows =
      state.health === 'measuring' && state.volts !== null ? ` It shows ${state.volts} V, ${state.amps} A.` : '';
    throw new Refusal(`${spec.name} is connected there.${shows}`);
  }
}
