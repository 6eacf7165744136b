import type {
  Ability,
  Call,
  CircuitId,
  Fact,
  Fault,
  JudgedClosing,
  OutcomeGrade,
  PatternId,
  Profile,
  Review,
  Tally,
} from '@umbral/core';

/** Rows of practice. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export type PracticeSource = 'free' | 'next' | 'lesson' | 'team' | 'job';

export interface PracticeTeamUnitRow {
  id: number;
  /** The Monday of its week, YYYY-MM-DD. */
  week: string;
  profile: string;
  profile_version: number;
  fault: string | null;
  circuit: CircuitId | null;
  severity: 'slight' | 'hard' | null;
  seed: number;
  created_at: Date;
}

/** The outcome that somebody named for a unit, as it would stand on the job. */
export interface PracticeClosing extends JudgedClosing {
  grade: OutcomeGrade;
  circuit: CircuitId | null;
  fix: string;
  /** Proofs that were still open. */
  open: string[];
}

export interface PracticeUnitRow {
  job_id: number;
  person_id: number;
  source: PracticeSource;
  lesson: string | null;
  team_unit_id: number | null;
  profile: string;
  profile_version: number;
  seed: number;
  device: Profile;
  faults: Fault[];
  circuit: CircuitId;
  says: string;
  looks: number;
  /** What its display showed whenever it was watched, A; what is typed is read off this. */
  watched: number[];
  tally: Tally | null;
  /** How it was closed; null where it was not, or where it was finished without an outcome. */
  closing: PracticeClosing | null;
  finished_at: Date | null;
  created_at: Date;
}

export interface PracticeCallRow {
  job_id: number;
  pattern: PatternId;
  shares: Call['shares'];
  /** Name of the test that comes next, and what is expected of it; empty where none was named. */
  test: string;
  expects: string;
  /** Null where none was named. */
  test_points: number | null;
  expects_p: number | null;
  assessment_id: number;
  missed: Fact[];
  /** The fact that tells the unit's circuit from the one that was called, or from the likeliest other one; null for none. */
  decided: Fact | null;
  points: number;
  engine_points: number;
  /** What was said at the end, with its points; all null where nothing was. */
  final_shares: Call['shares'] | null;
  final_points: number | null;
  final_engine_points: number | null;
  created_at: Date;
}

export interface PracticeLearnerRow {
  person_id: number;
  ability: Ability;
  updated_at: Date;
}

export interface PracticeReviewRow {
  person_id: number;
  key: string;
  kind: 'pair' | 'silhouette';
  card: Review['card'];
  last_right: Date | null;
  wrong: number;
  due_at: Date;
}

export interface PracticeLessonRow {
  person_id: number;
  lesson: string;
  answers: Record<string, LessonAnswer>;
  done_at: Date | null;
}

/** An answer in a lesson as it was given first. */
export interface LessonAnswer {
  given: string;
  isRight: boolean;
  /** How often it was answered wrong; left out where nobody counted yet. */
  wrong?: number;
}
