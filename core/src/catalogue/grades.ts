/** Everything that is said of how a job ends. */
interface GradeDefinition {
  /** As people read it. */
  name: string;
  /** Whether the circuit has to be named, may be named, or cannot be. */
  circuit: 'needed' | 'possible' | 'none';
  /** The cause is known well enough to count as a confirmed case. */
  isConfirmed: boolean;
  /** Somebody looks at the device again. */
  isRecalled: boolean;
}

/** How sure the end of a job is, from a cause that was measured to a device that nobody repairs. */
const catalogue = {
  measured: { name: 'cause measured and repaired', circuit: 'needed', isConfirmed: true, isRecalled: false },
  cleared: { name: 'fixed, cause not measured', circuit: 'needed', isConfirmed: true, isRecalled: false },
  disappeared: { name: 'recovered without a repair', circuit: 'none', isConfirmed: false, isRecalled: true },
  'not-found': { name: 'not found', circuit: 'none', isConfirmed: false, isRecalled: true },
  declined: { name: 'declined', circuit: 'possible', isConfirmed: false, isRecalled: false },
  'not-economical': { name: 'not economical', circuit: 'possible', isConfirmed: false, isRecalled: false },
} as const satisfies Readonly<Record<string, GradeDefinition>>;

export type OutcomeGrade = keyof typeof catalogue;
export const gradeTypes: Readonly<Record<OutcomeGrade, GradeDefinition>> = catalogue;
export const outcomeGrades = Object.keys(catalogue) as OutcomeGrade[];

/** True for an id of the catalogue. */
export function isGrade(id: string): id is OutcomeGrade {
  return Object.hasOwn(catalogue, id);
}
