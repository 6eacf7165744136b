import { actionTypes, circuitNames, circuitTypes, withArticle } from '../catalogue/index.ts';
import { inSentence } from '../quantity/index.ts';
import { unitNames } from './action-notes.ts';
import type { Action } from './values.ts';

type Changed = Pick<Action, 'kind' | 'target' | 'circuit' | 'unit' | 'with'>;
/** What of a change its words need. */
export type ActionDone = Changed & Pick<Action, 'byItself'>;

export const actionDone = ({ kind, target, circuit, unit, with: origin, byItself }: Action): ActionDone => ({
  kind,
  target,
  circuit,
  unit,
  with: origin,
  byItself,
});

/** What was done, in words: "coil beside the plug replaced". */
export function sayAction(action: ActionDone): string {
  if (action.byItself) return 'without a repair';
  const { target, unit, circuit } = action;
  const what = target || (unit ? unitNames[unit] : circuit ? circuitNames[circuit] : 'a part');
  return `${what} ${actionTypes[action.kind].done}`;
}

/** A verb that was typed after a part: "coil 6 lifted" is coil 6. */
const typedVerb = /\s+(?:lifted|removed|replaced|cleaned|unplugged|disconnected|parted|split|off|out)$/i;

/** The part that a change is about, as its story calls it. */
export function partName({ target, unit, circuit }: Changed): string {
  const named = target.replace(typedVerb, '');
  return named || (unit ? unitNames[unit] : circuit ? inSentence(circuitNames[circuit]) : 'part');
}

/** Circuits that are made of many parts, as a customer knows them. */
const ofManyParts = /suppl|circuit|protection|converter|signals|joints/;

/**
 * What was done, as a sentence for somebody who does not repair devices.
 *
 * @example tellChange({ kind: 'replace', target: 'coil 2', circuit: null, unit: null, with: null }) // 'We replaced coil 2.'
 */
export function tellChange(action: Changed): string {
  const { kind, target, unit, circuit, with: origin } = action;
  const said = (): string => {
    if (target !== '') return withArticle(inSentence(target.replace(typedVerb, '')));
    if (unit !== null)
      return kind === 'trial' && origin === 'good' ? `a known-good ${unitNames[unit]}` : `the ${unitNames[unit]}`;
    if (circuit === null) return 'a part';
    const { plain } = circuitTypes[circuit];
    return ofManyParts.test(plain) ? `a part of ${plain}` : plain;
  };
  return actionTypes[kind].plain(said());
}
