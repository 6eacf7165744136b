import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  type Action,
  type Assessment,
  type Check,
  type Injection,
  type Intake,
  type Reading,
  type Run,
} from '@umbral/core';
import { heldBy, type Answer, type StoryExpectation } from '@umbral/tools';

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
  expect: StoryExpectation;
}

export const loadStory = (name: string): Story =>
  JSON.parse(readFileSync(join(__dirname, 'stories', `${name}.json`), 'utf8')) as Story;

/**
 * What a step expects and is not so, in sentences.
 *
 * @param a the verdict after the step
 * @param before the suspects of the verdict before it
 */
export function missedBy(a: Assessment, before: Assessment['circuits'], { expect }: Step): string[] {
  const asAnswer = (circuits: Assessment['circuits']): Answer => ({ ...(a as unknown as Answer), circuits });
  const lead = a.circuits.slice(0, 3).map((c) => `${c.id} ${c.p.toFixed(2)}`);
  return heldBy(expect, asAnswer(a.circuits), asAnswer(before))
    .filter((held) => !held.holds)
    .map((held) => `${held.what} (leading: ${lead.join(', ')})`);
}
