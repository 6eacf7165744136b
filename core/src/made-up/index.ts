export { makeCase, weakSpots, type VirtualCase } from './virtual-case.ts';
export { seedStep, shopJob, unitSpread, type ShopJob } from './shop-year.ts';
export { drawBoard, drawHeat, type DrawnBoard } from './drawn-board.ts';
