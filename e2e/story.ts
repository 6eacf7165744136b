import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Action, Check, Injection, Intake, Reading, Run } from '@umbral/core';

/** A repair as it went, with what has to be said after each step. */
export interface Story {
  id: string;
  device: { class: string; model: string; expect?: Record<string, unknown> };
  complaint?: string;
  complaintKind?: string;
  intake?: Partial<Intake>;
  steps: Step[];
}

export interface Step {
  say: string;
  add?: {
    runs?: (Partial<Run> & Pick<Run, 'id' | 'feed'>)[];
    checks?: (Partial<Check> & Pick<Check, 'id' | 'outcome'>)[];
    readings?: (Partial<Reading> & Pick<Reading, 'where' | 'mode'>)[];
    injections?: (Partial<Injection> & Pick<Injection, 'rail' | 'setV'>)[];
    actions?: (Partial<Action> & Pick<Action, 'id' | 'kind'>)[];
    intake?: Partial<Intake>;
    /** Places whose circuit became known. */
    places?: { where: string; circuit: string }[];
  };
  expect: {
    cause?: {
      first?: string[];
      top3?: string[];
      atLeast?: Record<string, number>;
      atMost?: Record<string, number>;
      rises?: string[];
      falls?: string[];
    };
    pattern?: Record<string, string[]>;
    now?: Record<string, number>;
    next?: { oneOf?: Wanted[]; within?: number; never?: (Wanted & { within?: number })[] };
    warns?: string[];
  };
}

export type Wanted = Record<string, unknown>;

export const loadStory = (name: string): Story =>
  JSON.parse(readFileSync(join(__dirname, 'stories', `${name}.json`), 'utf8')) as Story;
