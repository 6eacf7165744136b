/** What is a name and nothing more. */
export interface Named {
  name: string;
}

/** The steps of the work on a job, in their order. */
const stageCatalogue = {
  look: { name: 'look' },
  record: { name: 'record' },
  call: { name: 'diagnose' },
  isolate: { name: 'isolate' },
  measure: { name: 'measure' },
  locate: { name: 'locate' },
  act: { name: 'repair' },
  verify: { name: 'verify' },
  close: { name: 'close' },
} as const satisfies Readonly<Record<string, Named>>;

export type JobStage = keyof typeof stageCatalogue;
export const stageTypes: Readonly<Record<JobStage, Named>> = stageCatalogue;
export const stageIds = Object.keys(stageCatalogue) as JobStage[];

/** What a device is, for what it can be expected to draw. */
const deviceClassCatalogue = {
  phone: { name: 'phone' },
  tablet: { name: 'tablet' },
  laptop: { name: 'laptop' },
  handheld: { name: 'handheld' },
  console: { name: 'console' },
  ereader: { name: 'e-reader' },
  other: { name: 'other device' },
} as const satisfies Readonly<Record<string, Named>>;

export type DeviceClass = keyof typeof deviceClassCatalogue;
export const deviceClassTypes: Readonly<Record<DeviceClass, Named>> = deviceClassCatalogue;
export const deviceClasses = Object.keys(deviceClassCatalogue) as DeviceClass[];

/** What somebody complains of. */
const complaintCatalogue = {
  'no-start': { name: 'does not start' },
  'no-charge': { name: 'does not charge' },
  'slow-charge': { name: 'charges slowly' },
  drain: { name: 'drains' },
  'no-picture': { name: 'no picture' },
  restarts: { name: 'restarts' },
  intermittent: { name: 'intermittent' },
  other: { name: 'something else' },
} as const satisfies Readonly<Record<string, Named>>;

export type ComplaintKind = keyof typeof complaintCatalogue;
export const complaintTypes: Readonly<Record<ComplaintKind, Named>> = complaintCatalogue;
export const complaintKinds = Object.keys(complaintCatalogue) as ComplaintKind[];
