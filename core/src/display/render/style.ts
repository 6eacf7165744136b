import type { Random } from '../../trace/index.ts';
import settings from './styles.json';

/** How a display draws its characters. Lengths in heights of a character. */
export interface DisplayStyle {
  kind: 'segments' | 'dots' | 'strokes';
  /** Width of a character. */
  aspect: number;
  /** Of a bar or line; of dots, more than the gap makes them round. */
  thickness: number;
  /** Between bars, or between dots as a share of their grid. */
  gap: number;
  /** How far the top leans to the right. */
  slant: number;
  /** From one character to the next, beyond its width. */
  pitch: number;
  dotRadius: number;
  /** How its strokes are bowed: sideways and up, in the middle and to the ends; no two faces are drawn alike. */
  bow: readonly [number, number, number, number];
  /** How far light spreads around what is lit. */
  bleed: number;
  /** Brightness of what is not lit, as a share of what is: segments that can be seen though they are off. */
  unlit: number;
  /** A segment that is broken; null for none. */
  missing: string | null;
  /** Which face of its kind. */
  hand: Hand;
  isLightOnDark: boolean;
  /** Brightness of ink and ground, 0 to 1. */
  ink: number;
  ground: number;
}

/** Faces: the classifier never learns from the last. */
export type Hand = 'plain' | 'square' | 'barred' | 'other';

/**
 * Whether a place in the cell of a character is ink.
 *
 * @param char a digit or a minus; nothing else has ink
 * @param x from the left of the cell, in heights of the character
 * @param y from its top, in heights of the character
 */
export type Ink = (char: string, x: number, y: number) => boolean;

/** Styles that the classifier learns from, and others that it is tried on. */
export type StyleFamily = 'familiar' | 'strange';

const kinds = ['segments', 'segments', 'dots', 'strokes'] as const;

/** A style by chance. */
export function drawStyle(family: StyleFamily, random: Random): DisplayStyle {
  const of = settings[family];
  const between = ([from, to]: number[]): number => from + random() * (to - from);
  const kind = kinds[Math.floor(random() * kinds.length)];
  const isLightOnDark = random() < 0.5;
  const { ink, ground } = settings.brightness;
  const [bright, dark] = [between(ink), between(ground)];
  return {
    kind,
    aspect: between(of.aspect),
    thickness: between(of.thickness) * settings.thicknessOf[kind],
    gap: kind === 'dots' ? between(settings.dotGap) : between(of.gap),
    slant: kind === 'segments' ? between(of.slant) : 0,
    pitch: between(of.pitch),
    dotRadius: between(of.dotRadius),
    bow: [0, 0, 0, 0].map(() => between([-of.bow, of.bow])) as [number, number, number, number],
    bleed: between(of.bleed),
    unlit: kind === 'segments' ? between(of.unlit) : 0,
    missing: null,
    hand: of.hands[Math.floor(random() * of.hands.length)] as Hand,
    isLightOnDark,
    ink: isLightOnDark ? bright : dark,
    ground: isLightOnDark ? dark : bright,
  };
}
