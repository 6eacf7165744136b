export { leadsOhm, SimulatedBoard, type SeenHeat } from './board.ts';
export { PracticeBench, sayProbe, type FedRail } from './bench.ts';
export { leadingShare, pointsFor, probabilitiesOf, refusedShares, type Call } from './call.ts';
export { judgeClosing, type JudgedClosing } from './closing.ts';
export { complaintOf, drawFault, spotOf } from './draw-fault.ts';
export { valuedTests, type ValuedTest } from './next-test.ts';
export { decidingFact, missedBy, pointsToIt, rivalOf, type DrawnBoth, type Fact, type HeldCall } from './facts.ts';
export { feedsOf, instrumentsOf, powerOn, refusedPowerOn, type PowerOn, type RecordedPower } from './power-on.ts';
export { neverShown } from './read-off.ts';
export { recordedRun } from './recorded-run.ts';
export { partsMeant } from './meant.ts';
export { mendsFault, stateAfter, type UnitState } from './state.ts';
export { usualRun, type SeenUsual, type UsualFeed } from './usual-run.ts';
export { tallyOf, type Risk, type Tally } from './tally.ts';
export { drawUnit, practicableCircuits, type PracticeUnit, type UnitWish } from './unit.ts';
export { beginner, difficultyOf, expectedShare, ratedAbility, type Ability } from './ability.ts';
export { chooseNext, type Learner, type NextUnit } from './next-unit.ts';
export { practiceFigures, readinessOf, type CalledUnit, type PracticeFigures, type Readiness } from './readiness.ts';
export { circuitsOf, isDue, pairKey, pairsAfter, reviewedCard, type Review } from './review.ts';
export { questionAgain } from './course/again.ts';
export { askedUnit, judgeAnswer, optionsOf, unitSlip } from './course/judge.ts';
export {
  circuitsTaughtBy,
  circuitsTaughtIn,
  courseLessonOf,
  courseLessons,
  lessonMinutes,
  type CourseLesson,
  type LessonRun,
  type Question,
} from './course/lesson.ts';
export { drawLessonRun, withFigures } from './course/lesson-run.ts';
export { attainablePoints } from './difficulty.ts';
