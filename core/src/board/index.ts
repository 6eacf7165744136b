export {
  alignmentThrough,
  cssTransform,
  heightOf,
  inPicture,
  onBoard,
  type Alignment,
  type Pair,
} from './alignment.ts';
export { cutOut, regionAround } from './cut.ts';
export {
  boardSides,
  markKinds,
  pointKinds,
  type BoardSide,
  type MarkKind,
  type PointKind,
} from '../catalogue/index.ts';
export type { Point, Quad } from '../display/index.ts';
