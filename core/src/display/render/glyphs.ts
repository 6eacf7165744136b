import { segmentsOf } from './segments.ts';
import { strokesOf } from './strokes.ts';
import { dotsOf } from './dots.ts';
import type { DisplayStyle, Ink } from './style.ts';

/** How characters of a style are drawn, before they are slanted. */
export function inkOf(style: DisplayStyle): Ink {
  if (style.kind === 'segments') return segmentsOf(style);
  return style.kind === 'dots' ? dotsOf(style) : strokesOf(style);
}
