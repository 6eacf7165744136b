/** Figures along the axis of a chart. */
export const axisTick = { fill: 'var(--muted)', fontSize: 13 };

/** A run as it stands on its baseline, in every chart: its level, and fainter what it reached within a point of the picture. */
export const silhouetteArea = {
  type: 'stepAfter',
  stroke: 'none',
  fill: 'var(--umbra)',
  isAnimationActive: false,
  connectNulls: false,
  baseValue: 0,
} as const;
export const peakOpacity = 0.35;

/** The voltage beside it, a line against its own scale. */
export const voltageLine = {
  type: 'stepAfter',
  stroke: 'var(--volts)',
  strokeWidth: 1.8,
  dot: false,
  isAnimationActive: false,
  connectNulls: false,
} as const;
