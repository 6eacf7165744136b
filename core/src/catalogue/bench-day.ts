import type { Named } from './jobs.ts';

/** What is shared on a bench, and what a stretch of work cannot be done without. */
const equipmentCatalogue = {
  supply: { name: 'bench supply' },
  meter: { name: 'USB-C meter' },
  camera: { name: 'thermal camera' },
  microscope: { name: 'microscope' },
  'hot-air': { name: 'hot air' },
  preheater: { name: 'preheater' },
  bath: { name: 'ultrasonic bath' },
} as const satisfies Readonly<Record<string, Named>>;

export type EquipmentId = keyof typeof equipmentCatalogue;
export const equipmentTypes: Readonly<Record<EquipmentId, Named>> = equipmentCatalogue;
export const equipmentIds = Object.keys(equipmentCatalogue) as EquipmentId[];

/** Where on the bench somebody works: moving from one to another takes a while to lay out. */
const placeCatalogue = {
  outside: { name: 'at the meter' },
  opened: { name: 'at the opened device' },
  microscope: { name: 'under the microscope' },
  desk: { name: 'at the desk' },
} as const satisfies Readonly<Record<string, Named>>;

export type WorkPlace = keyof typeof placeCatalogue;
export const workPlaces: Readonly<Record<WorkPlace, Named>> = placeCatalogue;
export const workPlaceIds = Object.keys(placeCatalogue) as WorkPlace[];

/** Everything that is said of a kind of wait, beside how long it usually takes (`workbench/waits.json`). */
interface WaitDefinition extends Named {
  /** After "waits: ", as it stands in a list. */
  doing: string;
  /** What is to be done when it is over. */
  then: string;
  /** What it keeps occupied. */
  uses?: EquipmentId;
  /** What must follow before the device may be powered: done by hand, then perhaps the next wait. */
  step?: { name: string; minutes: number };
  leadsTo?: 'dry';
  /** It ends when somebody else does something: nobody knows when. */
  isOpen?: boolean;
}

const waitCatalogue = {
  cool: { name: 'Cool down', doing: 'cools down', then: 'Do not touch it before then. Then record it again.' },
  bath: {
    name: 'Ultrasonic bath',
    doing: 'in the ultrasonic bath',
    then: 'Take it out of the bath, rinse it and dry it.',
    uses: 'bath',
    step: { name: 'Rinse it and dry it', minutes: 10 },
    leadsTo: 'dry',
  },
  dry: {
    name: 'Dry',
    doing: 'dries',
    then: 'Inspect it, then make the first run on a limited supply.',
    step: { name: 'Inspect it after drying', minutes: 5 },
  },
  preheat: {
    name: 'Preheat',
    doing: 'warms up on the preheater',
    then: 'Work on it while it is warm. Risk of burns and fumes: extraction on.',
    uses: 'preheater',
  },
  part: { name: 'Part on order', doing: 'waiting for a part', then: 'Fit the part.', isOpen: true },
  soak: { name: 'Soak', doing: 'soaks', then: 'Read the charge current and the temperature, and save the result.' },
  drain: { name: 'Drain test', doing: 'in a drain test', then: 'Read how much charge it lost.' },
  answer: {
    name: "Customer's answer",
    doing: "waiting for the customer's answer",
    then: 'Ask again, or act on the answer.',
    isOpen: true,
  },
  overnight: { name: 'Overnight', doing: 'left overnight', then: 'Power it on cold.' },
  other: { name: 'Something else', doing: 'waits', then: 'Continue.', isOpen: true },
} as const satisfies Readonly<Record<string, WaitDefinition>>;

export type WaitKind = keyof typeof waitCatalogue;
export const waitTypes: Readonly<Record<WaitKind, WaitDefinition>> = waitCatalogue;
export const waitKinds = Object.keys(waitCatalogue) as WaitKind[];

/** What minutes at the bench go into. */
const workCatalogue = {
  test: { name: 'Testing' },
  repair: { name: 'Repair' },
  proof: { name: 'Proof' },
  talk: { name: 'Customers' },
  other: { name: 'Other' },
} as const satisfies Readonly<Record<string, Named>>;

export type WorkKind = keyof typeof workCatalogue;
export const workTypes: Readonly<Record<WorkKind, Named>> = workCatalogue;
export const workKinds = Object.keys(workCatalogue) as WorkKind[];
