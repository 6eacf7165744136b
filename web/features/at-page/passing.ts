'use client';

import type { Result } from '@/server/record/errors';
import { chooseDevice, type Chosen, type DeviceWay, type PluggedIn } from './devices';

/** How an instrument stands that this window passes on. */
export type Passing =
  { is: 'off'; problem: string } | { is: 'connecting' | 'passing' | 'lost'; name: string; problem: string };

const off: Passing = { is: 'off', problem: '' };

/** Bytes that arrive within so long are told together, milliseconds: an answer is not kept waiting, a stream comes in batches. */
const tellAfterMs = 10;
/** After so long without the recorder, what is on is switched off; and how long until it is tried again. */
const aloneMs = 4000;
const againMs = 1000;

const hexOf = (bytes: Uint8Array): string => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join(' ');
const bytesOf = (hex: string): Uint8Array =>
  Uint8Array.from(hex.match(/[0-9a-f]{2}/gi) ?? [], (pair) => Number.parseInt(pair, 16));
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** The recorder refused: another window has it, or it is not there any more. */
class Refused extends Error {}

/**
 * One instrument whose bytes this window passes on, in both directions, for as long as it is open. It decodes nothing. When the
 * recorder does not answer for four seconds, it sends what switches the output off.
 */
class PassedOn {
  private readonly by = crypto.randomUUID();
  private heard: { at: number; bytes: Uint8Array }[] = [];
  private device: PluggedIn | null = null;
  private lastWords: Uint8Array[] = [];
  private okAt = performance.now();
  private hasSaid = false;
  private isOn = true;
  private wake: () => void = () => undefined;

  constructor(
    private readonly instrument: string,
    private readonly chosen: Chosen,
    private readonly say: (state: Passing) => void,
  ) {}

  async go(): Promise<void> {
    const { name } = this.chosen;
    while (this.isOn) {
      try {
        this.say({ is: 'connecting', name, problem: '' });
        await this.once();
      } catch (error) {
        // What was refused is refused again; what was lost may come back.
        if (error instanceof Refused) this.isOn = false;
        this.say({ is: this.isOn ? 'lost' : 'off', name, problem: (error as Error).message });
      }
      if (this.isOn) await pause(againMs);
    }
  }

  async stop(): Promise<void> {
    this.isOn = false;
    this.wake();
    this.farewell();
    await this.device?.close();
    await this.ask({ does: 'close', why: 'it was disconnected in its window' }).catch(() => undefined);
  }

  /** The window goes: what is on is switched off, as far as a browser still lets it. */
  farewell(): void {
    for (const bytes of this.lastWords) void this.device?.write(bytes).catch(() => undefined);
  }

  /** What a window that goes can still say: that it is gone, so that the next may connect at once. */
  leave(): void {
    this.farewell();
    const body = { instrument: this.instrument, by: this.by, does: 'close', why: 'its window was closed' };
    navigator.sendBeacon('/api/recorder/page', new Blob([JSON.stringify(body)], { type: 'application/json' }));
  }

  /** From opening the device until it or the recorder is gone. */
  private async once(): Promise<void> {
    let ended: string | null = null;
    const device = await this.chosen.open({
      bytes: (bytes) => {
        this.heard.push({ at: performance.now(), bytes });
        this.wake();
      },
      ended: (why) => {
        ended = why;
        this.wake();
      },
    });
    this.device = device;
    try {
      const { lastWords } = await this.ask<{ lastWords: string[] }>({ does: 'open' });
      this.lastWords = lastWords.map(bytesOf);
      this.say({ is: 'passing', name: this.chosen.name, problem: '' });
      const isOver = (): boolean => ended !== null || !this.isOn;
      await Promise.all([this.tell(isOver), this.pull(device, isOver)]);
      if (ended) throw new Error(ended);
    } finally {
      this.device = null;
      await device.close().catch(() => undefined);
      await this.ask({ does: 'close', why: ended ?? '' }).catch(() => undefined);
    }
  }

  private async tell(isOver: () => boolean): Promise<void> {
    while (!isOver()) {
      await this.somethingHeard();
      await pause(tellAfterMs);
      const pieces = this.heard.splice(0, mostPieces);
      if (pieces.length === 0) continue;
      const now = performance.now();
      const aged = pieces.map(({ at, bytes }) => [Math.max(0, (now - at) / msPerSecond), hexOf(bytes)]);
      await this.patiently(() => this.ask({ does: 'pass', pieces: aged }));
    }
  }

  /** Resolves when bytes have arrived, or it is over. */
  private somethingHeard(): Promise<void> {
    if (this.heard.length > 0 || !this.isOn) return Promise.resolve();
    return new Promise((resolve) => {
      this.wake = resolve;
    });
  }

  private async pull(device: PluggedIn, isOver: () => boolean): Promise<void> {
    while (!isOver()) {
      const pulled = await this.patiently(() => this.ask<{ send: string[] }>({ does: 'pull' }));
      for (const hex of pulled?.send ?? []) await device.write(bytesOf(hex));
    }
  }

  /** What fails for want of an answer is tried again; what was refused is not. */
  private async patiently<T>(work: () => Promise<T>): Promise<T | null> {
    try {
      return await work();
    } catch (error) {
      if (error instanceof Refused) throw error;
      if (performance.now() - this.okAt > aloneMs && !this.hasSaid) {
        this.hasSaid = true;
        this.farewell();
      }
      await pause(againMs);
      return null;
    }
  }

  private async ask<T>(body: object): Promise<T> {
    const answer = await fetch('/api/recorder/page', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ instrument: this.instrument, by: this.by, ...body }),
    });
    const result = (await answer.json()) as Result<T>;
    if (result.ok) {
      [this.okAt, this.hasSaid] = [performance.now(), false];
      return result.value;
    }
    throw result.kind === 'input' || result.kind === 'forbidden'
      ? new Refused(result.message)
      : new Error(result.message);
  }
}

const mostPieces = 400;
const msPerSecond = 1000;

const passedOn = new Map<string, PassedOn>();
const states = new Map<string, Passing>();
const listeners = new Set<() => void>();

function tellAll(instrument: string, state: Passing): void {
  states.set(instrument, state);
  for (const listen of listeners) listen();
}

/** How an instrument stands that this window passes on. */
export const passingOf = (instrument: string): Passing => states.get(instrument) ?? off;

/** @returns what ends the listening */
export function onPassing(listen: () => void): () => void {
  listeners.add(listen);
  return () => void listeners.delete(listen);
}

/** Asks which device it is, and passes it on from now until the window is closed or it is disconnected. */
export async function passOn(instrument: string, way: DeviceWay): Promise<void> {
  try {
    const chosen = await chooseDevice(way);
    if (!chosen) return;
    const passed = new PassedOn(instrument, chosen, (state) => tellAll(instrument, state));
    passedOn.set(instrument, passed);
    void passed.go();
  } catch (error) {
    tellAll(instrument, { is: 'off', problem: (error as Error).message });
  }
}

export async function letGo(instrument: string): Promise<void> {
  await passedOn.get(instrument)?.stop();
  passedOn.delete(instrument);
  tellAll(instrument, off);
}

if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    for (const passed of passedOn.values()) passed.leave();
  });
