import type { Network } from '../classify/network.ts';
import { mirroredImage, type GrayImage, type Point, type Quad } from '../image.ts';
import { readField, type Candidate } from '../read/candidate.ts';
import { FieldSequence, type Doubt } from '../read/sequence.ts';
import { findNumbers } from '../find/find.ts';
import settings from './display-reader.json';
import follow from './follow.json';
import { Follower } from './follow.ts';
import { cornersIn, cornersOf, type FramedNumber, type Framing, type ShownQuantity } from './framing.ts';
import { powerAgrees, type ShownStep } from './power.ts';
import { refoundIn } from './refound.ts';
import { refreshPeriod } from './refresh.ts';
import { Recently } from './recently.ts';

/** Why a number of a picture is absent. */
export type ReadingDoubt = Doubt | 'covered' | 'power';

/** What one picture says, once it is decided on. */
export interface DisplayReading {
  /** When the picture was taken, seconds on the clock of whoever took it. */
  t: number;
  /** In V, A and W; null where it is doubtful or not framed. */
  volts: number | null;
  amps: number | null;
  watts: number | null;
  /** By framed number: null where it was read. */
  doubts: (ReadingDoubt | null)[];
  /** A new value of the display, or the usual time since the last: worth a sample. */
  isSample: boolean;
}

/** What is to be said of the last seconds, where it is not simply read. */
export type DisplayNote =
  'dark' | 'covered' | 'cut-off' | 'nothing' | 'mirrored' | 'blinking' | 'power' | 'range' | 'unsure';

/** How the reading goes. */
export interface DisplayState {
  note: DisplayNote | null;
  /** Share of the numbers of the last seconds that are absent, 0 to 1; null before the first. */
  doubtShare: number | null;
  /** How often the display changes, seconds; null while that is not known. */
  refreshS: number | null;
  /** The smallest steps that it shows, V and A; null while that is not known. */
  stepV: number | null;
  stepA: number | null;
  /** Corners where the numbers stand now, shares of the picture as it was given. */
  corners: Quad[];
  /** What each number read in the last picture, as it stands there; empty where nothing was read. */
  texts: string[];
}

/**
 * Reads a framed display, picture after picture. A picture is decided on when the next one is there; what is doubtful is absent.
 */
export class DisplayReader {
  private readonly follower = new Follower();
  private sequences: FieldSequence[];
  private texts: string[];
  private steps: (number | null)[];
  private corners: Quad[];
  private shift: Point = [0, 0];
  private fit = 1;
  /** By framed number. */
  private readonly doubts: Recently<ReadingDoubt | null>[];
  private readonly flipped = new Recently<boolean>(settings.recentS);
  private changes: number[] = [];
  private shown: { amps: number; t: number } | null = null;
  private refresh: number | null = null;
  private lastMirrorTry = -Infinity;
  private lastFind = -Infinity;
  private lostSince: number | null = null;

  constructor(
    private readonly net: Network,
    private readonly framing: Framing,
  ) {
    const { numbers } = framing;
    this.sequences = numbers.map((n) => new FieldSequence(n.decimals));
    this.texts = numbers.map(() => '');
    this.steps = numbers.map((n) => (n.decimals === null ? null : n.unit * 10 ** -n.decimals));
    this.corners = numbers.map((n) => n.corners);
    this.doubts = numbers.map(() => new Recently(settings.recentS));
  }

  /**
   * Takes the next picture.
   *
   * @param t seconds, after those before it
   * @returns what is decided on the picture before it; null for the first
   */
  take(t: number, given: GrayImage): DisplayReading | null {
    const picture = this.framing.isMirrored ? mirroredImage(given) : given;
    this.follow(t, picture);
    const seen = this.framing.numbers.map((n, k) => this.look(n, k, picture));
    const decided = this.sequences.map((sequence, k) =>
      sequence.next(t, seen[k] === 'covered' ? 'no-characters' : seen[k]),
    );
    if (this.unread) this.tryMirrored(t, picture);
    if (decided.some((d) => d === null)) return null;
    const all = decided.flatMap((d) => d ?? []);
    return this.told(
      all[0].t,
      all.map((d) => d.value),
      all.map((d) => (this.fit < follow.coveredBelow && d.doubt === 'no-characters' ? 'covered' : d.doubt)),
    );
  }

  /**
   * Looks for the framed numbers in a whole picture, as after the camera was put up again. It takes about a second.
   *
   * @returns whether they were found; where not, they stay where they were framed
   */
  findAgain(given: GrayImage): boolean {
    return this.lookFor(this.framing.isMirrored ? mirroredImage(given) : given);
  }

  /** How the reading goes now. */
  get state(): DisplayState {
    const step = (of: ShownQuantity): number | null => this.steps[this.indexOf(of)] ?? null;
    return {
      note: this.note,
      doubtShare: this.doubtShare,
      refreshS: this.refresh,
      stepV: step('volts'),
      stepA: step('amps'),
      corners: this.corners.map((quad) => moved(quad, this.shift)),
      texts: this.texts,
    };
  }

  private indexOf(quantity: ShownQuantity): number {
    return this.framing.numbers.findIndex((n) => n.quantity === quantity);
  }

  /** Where the camera looks now; what went away for longer is looked for in the whole picture. */
  private follow(t: number, picture: GrayImage): void {
    const { x, y, fit } = this.follower.moved(picture);
    this.fit = fit;
    if (fit >= follow.coveredBelow) {
      this.shift = [x, y];
      this.lostSince = null;
      return;
    }
    this.lostSince ??= t;
    if (t - this.lostSince < settings.findAfterS || t - this.lastFind < settings.findEveryS) return;
    this.lastFind = t;
    this.lookFor(picture);
  }

  private lookFor(picture: GrayImage): boolean {
    const found = findNumbers(this.net, picture).map((f) => cornersOf(f.quad, picture));
    const again = refoundIn(this.corners, found);
    if (again) this.standsAt(again, picture);
    return again !== null;
  }

  /** The numbers stand here, and are followed from here. */
  private standsAt(corners: Quad[], picture: GrayImage): void {
    this.corners = corners;
    this.shift = [0, 0];
    this.fit = 1;
    this.lostSince = null;
    this.follower.setReference(picture);
  }

  private look(
    number: FramedNumber,
    k: number,
    picture: GrayImage,
  ): Candidate | Exclude<ReadingDoubt, 'power' | 'unsure' | 'other-format' | 'alone'> {
    if (this.fit < follow.coveredBelow) return 'covered';
    if (number.quantity === 'ignored') return 'no-characters';
    const quad = cornersIn(moved(this.corners[k], this.shift), picture);
    const seen = readField(this.net, picture, quad, number.decimals);
    this.texts[k] = typeof seen === 'string' ? '' : seen.text;
    return seen;
  }

  private told(t: number, values: (number | null)[], doubts: (ReadingDoubt | null)[]): DisplayReading {
    const { numbers } = this.framing;
    const inUnits = values.map((v, k) => (v === null ? null : v * numbers[k].unit));
    this.learnSteps(doubts);
    if (!this.agrees(inUnits))
      numbers.forEach(({ quantity }, k) => {
        if (quantity === 'ignored') return;
        [doubts[k], inUnits[k]] = ['power', null];
      });
    numbers.forEach((n, k) => {
      if (n.quantity !== 'ignored') this.doubts[k].add(t, doubts[k]);
      else doubts[k] = null;
    });
    const of = (quantity: ShownQuantity): number | null => inUnits[this.indexOf(quantity)] ?? null;
    const [volts, amps, watts] = [of('volts'), of('amps'), of('watts')];
    return { t, volts, amps, watts, doubts, isSample: this.isSample(t, amps) };
  }

  /** The smallest step of each number, from where its point stands. */
  private learnSteps(doubts: readonly (ReadingDoubt | null)[]): void {
    this.framing.numbers.forEach((n, k) => {
      if (doubts[k] !== null || n.decimals !== null) return;
      const digits = this.texts[k].split('.')[1]?.length ?? 0;
      const step = n.unit * 10 ** -digits;
      if (this.texts[k] !== '' && (this.steps[k] === null || step < this.steps[k])) this.steps[k] = step;
    });
  }

  private agrees(values: readonly (number | null)[]): boolean {
    const of = (quantity: ShownQuantity): ShownStep | null => {
      const k = this.indexOf(quantity);
      const [value, step] = [values[k] ?? null, this.steps[k] ?? null];
      return value === null || step === null ? null : { value, step };
    };
    const [volts, amps, watts] = [of('volts'), of('amps'), of('watts')];
    return !volts || !amps || !watts || powerAgrees(volts, amps, watts, settings.powerTolerance);
  }

  /** A display shows the same for a while: that is one reading, not many. */
  private isSample(t: number, amps: number | null): boolean {
    if (amps === null) return false;
    const isNew = this.shown === null || this.shown.amps !== amps;
    if (isNew && this.shown !== null) {
      this.changes = [...this.changes.slice(-settings.maxChanges), t];
      this.refresh = refreshPeriod(this.changes) ?? this.refresh;
    }
    // A device that rests shows one value for long: that says nothing about its display.
    const spacing = Math.min(this.refresh ?? 0, settings.maxSpacingS);
    const isDue = this.shown === null || t - this.shown.t >= spacing * settings.dueFrom;
    if (isNew || isDue) this.shown = { amps, t };
    return isNew || isDue;
  }

  /** Share of each number's pictures that are absent; of those that are read at all. */
  private get shares(): number[] {
    return this.doubts.flatMap((d) => d.share((doubt) => doubt !== null) ?? []);
  }

  private get doubtShare(): number | null {
    const { shares } = this;
    return shares.length === 0 ? null : shares.reduce((a, b) => a + b, 0) / shares.length;
  }

  /** The number that is read least, where that is seldom. */
  private get unread(): Recently<ReadingDoubt | null> | null {
    const [worst] = [...this.doubts].sort((a, b) => unreadShare(b) - unreadShare(a));
    return unreadShare(worst) > settings.unreadFrom ? worst : null;
  }

  /** Where hardly anything is read: whether it reads as what is seen in a mirror. */
  private tryMirrored(t: number, picture: GrayImage): void {
    if (t - this.lastMirrorTry < settings.mirrorEveryS) return;
    this.lastMirrorTry = t;
    const turned = mirroredImage(picture);
    const isSure = (image: GrayImage, quad: Quad, { decimals }: FramedNumber): boolean => {
      const seen = readField(this.net, image, quad, decimals);
      return typeof seen !== 'string' && seen.p >= settings.sureFrom;
    };
    const sure = this.framing.numbers.map((n, k) => {
      const quad = cornersIn(moved(this.corners[k], this.shift), picture);
      const [a, b, c, d] = quad.map(([x, y]): Point => [picture.width - x, y]);
      // What reads well as it is, is not doubtful for being mirrored.
      return isSure(turned, [b, a, d, c], n) && !isSure(picture, quad, n);
    });
    this.flipped.add(t, sure.every(Boolean));
  }

  private get note(): DisplayNote | null {
    const { unread } = this;
    const blinks = this.doubts.some((one) => one.changes((d) => d === 'dark') >= settings.blinks);
    if (!unread) return blinks ? 'blinking' : null;
    if ((this.flipped.share((x) => x) ?? 0) > 0.5) return 'mirrored';
    const most = unread.mostOften();
    if (most === 'dark' || most === 'covered' || most === 'power' || most === 'cut-off') return most;
    if (most === 'no-characters') return 'nothing';
    return most === 'point-elsewhere' || most === 'other-format' ? 'range' : 'unsure';
  }
}

const unreadShare = (of: Recently<ReadingDoubt | null>): number => of.share((d) => d !== null) ?? 0;

const moved = (quad: Quad, [dx, dy]: Point): Quad => quad.map(([x, y]): Point => [x + dx, y + dy]) as unknown as Quad;
