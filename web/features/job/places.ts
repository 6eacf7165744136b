import { FileText, Flame, ListChecks, type LucideIcon, Waypoints } from 'lucide-react';

/** A screen under a job, at `/jobs/ID/` and its id. */
interface PlaceDefinition {
  name: string;
  /** The key that leads to it from the job, with what it is; left out where the job's own buttons have it. */
  key?: readonly [key: string, says: string];
  /** Of its button beside the suspects, with when that is shown; left out for a place of the menu. */
  button?: { Icon: LucideIcon; isShown: (job: { isChanged: boolean; isClosed: boolean }) => boolean };
  /** A unit to practise on has it before it was called: it says nothing of what the engine thinks. */
  isOpenBeforeCall?: boolean;
}

const atWork = (job: { isClosed: boolean }): boolean => !job.isClosed;
const afterChange = (job: { isChanged: boolean; isClosed: boolean }): boolean => job.isChanged || job.isClosed;

/** The screens under a job, in the order of the work. */
const places = {
  record: { name: 'Record', isOpenBeforeCall: true },
  compare: { name: 'Compare' },
  measure: {
    name: 'Measure',
    key: ['g', 'measure: the ladder of rails'],
    button: { Icon: Waypoints, isShown: atWork },
  },
  locate: { name: 'Locate', key: ['h', 'locate: injection and heat'], button: { Icon: Flame, isShown: atWork } },
  verify: {
    name: 'Verify',
    key: ['w', 'verify: prove the repair'],
    button: { Icon: ListChecks, isShown: afterChange },
  },
  worth: { name: 'Worth', key: ['y', 'worth: what going on brings'] },
  parts: { name: 'Parts' },
  report: { name: 'Report', key: ['t', 'report'], button: { Icon: FileText, isShown: afterChange } },
} as const satisfies Readonly<Record<string, PlaceDefinition>>;

export type JobPlace = keyof typeof places;
export const jobPlaces: Readonly<Record<JobPlace, PlaceDefinition>> = places;
export const jobPlaceIds = Object.keys(places) as JobPlace[];
