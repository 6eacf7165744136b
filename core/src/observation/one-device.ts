import { checkTypes, circuitIds, type CheckId } from '../catalogue/index.ts';
import { fitSettings, groupedWorlds, outcomeOfGroup, type Space } from '../prediction/index.ts';
import type { PopulationView } from './population.ts';
import { marginalsOf, type Over, type Question } from './question.ts';
import { freeStart, startingAlike } from './starting.ts';

/**
 * A check of a model without a profile, which rests on one fact with all other checks: the device is one of the worlds of its class
 * and shows what that world shows, or it is none of them and goes by the tables, with looks at a start going one way. So what the
 * answers have in common counts once, in any order, and how far the worlds are believed is moved by how well they tell the answers.
 *
 * @param question what the tables expect of the check
 * @param certainty that looks at a start all go one way by the tables, 0 to 1
 */
export function onOneDevice(
  question: Question,
  check: CheckId,
  { space, over, view, certainty }: { space: Space; over: Over; view: PopulationView; certainty: number },
): Question {
  const { dead, outcomes: words } = checkTypes[check];
  const byTable = dead ? startingAlike(question, dead, certainty, over) : freeStart(question, certainty, over);
  const { rests } = byTable;
  if (!rests) return byTable;
  const groups = groupedWorlds(view.worlds, view.weights);
  const isKnown = circuitIds.map((_, c) => groups.some((group) => group.share[c] > 0));
  const shareOf = (h: number): number => (isKnown[space.circuitOf[h]] ? fitSettings.population.checks : 0);
  const values = [
    ...rests.values.map((list) => Array.from(list, (p, h) => (1 - shareOf(h)) * p)),
    ...groups.map(({ share }) => space.circuitOf.map((c, h) => shareOf(h) * share[c])),
  ];
  const slip = fitSettings.population.slip;
  const given = words.map((word) => {
    const shown = groups.map((group) => outcomeOfGroup(view.worlds, group, check));
    const ofGroups = shown.map((told) =>
      space.circuitOf.map((c, h) => {
        const answer = told[c];
        if (answer === null) return question.outcomes[word][h];
        return (answer === word ? 1 - slip : 0) + slip / words.length;
      }),
    );
    return [word, [...rests.given[word], ...ofGroups]] as const;
  });
  const fact = { fact: 'device', values, given: Object.fromEntries(given) };
  return { ...byTable, outcomes: marginalsOf(fact, words), rests: fact };
}
