import type { Knex } from 'knex';
import type {
  JobRow,
  OpeningRow,
  OnLeadsRow,
  ActionRow,
  AssessmentRow,
  CheckRow,
  CorrectionRow,
  PlaceNameRow,
  ReadingRow,
  InjectionRow,
  ProofRow,
  AttachmentRow,
  FirmwareDumpRow,
} from './rows/job-rows.ts';
import type {
  RunRow,
  RunChunkRow,
  RunLevelRow,
  RecordingRow,
  RecordingChunkRow,
  ReferenceRunRow,
  ReferenceReadingRow,
  ProfileRow,
} from './rows/run-rows.ts';
import type {
  ConfirmationRow,
  KnownShopRow,
  LibraryRow,
  RemovedRow,
  ShopKeyRow,
  CallRow,
  CallSumRow,
  CaseCountRow,
  LibraryCaseRow,
  LibraryGoneRow,
  LibraryRunRow,
  LibraryStateRow,
  NoteRow,
  ReplayRow,
} from './rows/library-rows.ts';
import type {
  InstrumentRow,
  BenchRow,
  CalibrationRow,
  BackupRow,
  BenchEventRow,
  BenchOrderRow,
  ShopPolicyRow,
} from './rows/bench-rows.ts';
import type { BoardMarkRow, BoardPictureRow, BoardPointRow, BoardSideRow, JobBoardRow } from './rows/board-rows.ts';
import type { SheetMarkRow, TakeRow, WaitRow } from './rows/day-rows.ts';
import type {
  DonorPartRow,
  DonorRow,
  PartMoveRow,
  PartOrderRow,
  PartReservationRow,
  PartRow,
} from './rows/part-rows.ts';
import type {
  PracticeCallRow,
  PracticeLearnerRow,
  PracticeLessonRow,
  PracticeReviewRow,
  PracticeTeamUnitRow,
  PracticeUnitRow,
} from './rows/practice-rows.ts';
import type {
  AuditRow,
  KnownScreenRow,
  PersonRow,
  PresenceRow,
  RequestRow,
  SessionRow,
  SignInCodeRow,
  SignInTriesRow,
  TokenRow,
} from './rows/people-rows.ts';

export type * from './rows/job-rows.ts';
export type * from './rows/run-rows.ts';
export type * from './rows/bench-rows.ts';
export type * from './rows/board-rows.ts';
export type * from './rows/day-rows.ts';
export type * from './rows/part-rows.ts';
export type * from './rows/practice-rows.ts';
export type * from './rows/library-rows.ts';
export type * from './rows/people-rows.ts';

/** What may be written to a table: columns that there are; a value of more than one part as JSON; an expression. */
export type Written<Row> = {
  [Column in keyof Row]?: Row[Column] | Knex.Raw | (Exclude<Row[Column], null> extends object ? string : never);
};

type Table<Row> = Knex.CompositeTableType<Row, Written<Row>>;

declare module 'knex/types/tables.js' {
  interface Tables {
    actions: Table<ActionRow>;
    assessments: Table<AssessmentRow>;
    place_names: Table<PlaceNameRow>;
    attachments: Table<AttachmentRow>;
    audit: Table<AuditRow>;
    backups: Table<BackupRow>;
    bench_events: Table<BenchEventRow>;
    bench_orders: Table<BenchOrderRow>;
    benches: Table<BenchRow>;
    board_marks: Table<BoardMarkRow>;
    board_pictures: Table<BoardPictureRow>;
    board_points: Table<BoardPointRow>;
    board_sides: Table<BoardSideRow>;
    calibrations: Table<CalibrationRow>;
    call_sums: Table<CallSumRow>;
    case_counts: Table<CaseCountRow>;
    calls: Table<CallRow>;
    checks: Table<CheckRow>;
    confirmations: Table<ConfirmationRow>;
    firmware_dumps: Table<FirmwareDumpRow>;
    injections: Table<InjectionRow>;
    instruments: Table<InstrumentRow>;
    job_boards: Table<JobBoardRow>;
    jobs: Table<JobRow>;
    known_screens: Table<KnownScreenRow>;
    known_shops: Table<KnownShopRow>;
    libraries: Table<LibraryRow>;
    library_cases: Table<LibraryCaseRow>;
    library_gone: Table<LibraryGoneRow>;
    library_runs: Table<LibraryRunRow>;
    library_state: Table<LibraryStateRow>;
    notes: Table<NoteRow>;
    on_leads: Table<OnLeadsRow>;
    openings: Table<OpeningRow>;
    donor_parts: Table<DonorPartRow>;
    donors: Table<DonorRow>;
    part_moves: Table<PartMoveRow>;
    part_orders: Table<PartOrderRow>;
    part_reservations: Table<PartReservationRow>;
    parts: Table<PartRow>;
    people: Table<PersonRow>;
    practice_calls: Table<PracticeCallRow>;
    practice_learners: Table<PracticeLearnerRow>;
    practice_lessons: Table<PracticeLessonRow>;
    practice_reviews: Table<PracticeReviewRow>;
    practice_team_units: Table<PracticeTeamUnitRow>;
    practice_units: Table<PracticeUnitRow>;
    presence: Table<PresenceRow>;
    profiles: Table<ProfileRow>;
    proofs: Table<ProofRow>;
    readings: Table<ReadingRow>;
    recording_chunks: Table<RecordingChunkRow>;
    recordings: Table<RecordingRow>;
    removed_rows: Table<RemovedRow>;
    corrections: Table<CorrectionRow>;
    replays: Table<ReplayRow>;
    requests: Table<RequestRow>;
    shop_keys: Table<ShopKeyRow>;
    reference_readings: Table<ReferenceReadingRow>;
    reference_runs: Table<ReferenceRunRow>;
    run_chunks: Table<RunChunkRow>;
    run_levels: Table<RunLevelRow>;
    runs: Table<RunRow>;
    sessions: Table<SessionRow>;
    sheet_marks: Table<SheetMarkRow>;
    shop_policy: Table<ShopPolicyRow>;
    sign_in_codes: Table<SignInCodeRow>;
    sign_in_tries: Table<SignInTriesRow>;
    takes: Table<TakeRow>;
    tokens: Table<TokenRow>;
    waits: Table<WaitRow>;
  }
}
