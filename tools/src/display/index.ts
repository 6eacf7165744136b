export { drawCamera, filmedImage, type Camera } from './film.ts';
export { drawNumberText, drawScene, type Scene } from './scene.ts';
export { freshNetwork, trainNetwork, type LabelledCell } from './train.ts';
export { variedCell } from './vary.ts';
export { bySegments } from './segment-logic.ts';
