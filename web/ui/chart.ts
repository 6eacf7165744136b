/** Figures along the axis of a chart. */
export const axisTick = { fill: 'var(--muted)', fontSize: 13 };
