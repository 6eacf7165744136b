/** What a probe is put on. */
export const pointKinds = ['coil', 'capacitor', 'pin', 'pad', 'connector', 'test-point'] as const;
export type PointKind = (typeof pointKinds)[number];

/** What the eye found on a board, as the check "look" has it, and where it was warm. */
export const markKinds = ['corrosion', 'residue', 'burnt', 'cracked', 'rework', 'heat'] as const;
export type MarkKind = (typeof markKinds)[number];

export const boardSides = ['front', 'back'] as const;
export type BoardSide = (typeof boardSides)[number];
