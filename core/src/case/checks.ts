import catalogue from './checks.json';

export type CheckId = keyof typeof catalogue;

export interface CheckType {
  name: string;
  /** The question whose answer is one of the outcomes. */
  ask: string;
  /** Empty where the answer is readings rather than a word. */
  outcomes: string[];
  /** 0 outside, 1 cover off, 2 unplugging inside, 3 board out and probing, 4 heat or shields, 5 stack split or chip off. */
  depth: number;
  minutes: number;
}

export const checkTypes: Record<CheckId, CheckType> = catalogue;
export const checkIds = Object.keys(catalogue) as CheckId[];

/** True for an id of the guide; inherited names such as `constructor` are not. */
export function isCheck(id: string): id is CheckId {
  return Object.hasOwn(catalogue, id);
}
