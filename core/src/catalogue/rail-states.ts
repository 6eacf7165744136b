/** Power states in which rails first stand: by their usual names, and by those of computers. */
export const railStates = ['always', 'standby', 'boot', 'run', 'G3', 'S5', 'S4', 'S3', 'S0'] as const;
export type RailState = (typeof railStates)[number];
