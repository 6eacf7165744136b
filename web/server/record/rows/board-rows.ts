import type { BoardSide, CircuitId, MarkKind, Pair, PointKind } from '@umbral/core';

/** Rows of board maps. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface BoardSideRow {
  id: number;
  model_key: string;
  revision: string;
  side: BoardSide;
  part: string;
  /** In widths of the board. */
  height: number;
  deleted_at: Date | null;
  created_at: Date;
  person_id: number | null;
}

export interface BoardPictureRow {
  id: number;
  side_id: number;
  job_id: number | null;
  kind: 'photo' | 'heat';
  caption: string;
  pairs: Pair[];
  /** Pixels. */
  width: number;
  height: number;
  image: Buffer;
  middle: Buffer;
  deleted_at: Date | null;
  created_at: Date;
  person_id: number | null;
}

export interface BoardPointRow {
  id: number;
  side_id: number;
  /** In widths of the board, from its upper left corner. */
  x: number;
  y: number;
  kind: PointKind;
  name: string;
  net: string;
  circuit: CircuitId | null;
  deleted_at: Date | null;
  created_at: Date;
  person_id: number | null;
}

export interface BoardMarkRow {
  id: number;
  side_id: number;
  job_id: number;
  kind: MarkKind;
  /** Corners, in widths of the board. */
  area: (readonly [number, number])[];
  where: string;
  circuit: CircuitId | null;
  check_id: number | null;
  deleted_at: Date | null;
  created_at: Date;
  person_id: number | null;
}

export interface JobBoardRow {
  job_id: number;
  revision: string;
  created_at: Date;
  person_id: number | null;
}
