export { alignTemplate, prepareTemplate } from './patches';
export { countChanges, detailOfCells } from './detail';
export { averageColour, countLeaving, settle, translate } from './samples';
export {
  addSample,
  addZones,
  compareColour,
  countAbove,
  layZones,
  readLight,
  strengthen,
  strengthenByColour,
  subtract,
} from './scene';
export { addToPanorama, showPanorama } from './cover';
export { allowances, boxMeans, divideBy, explainByShift, leaveOut, markAbove, markOther, squaresOf } from './unlike';
export { nextRegion } from './regions';
export { stepEquations } from './register';
export { shrinkBlocks, widenLuma } from './shrink';
export { cellsOverFrames, framesOverCells, quantileOf } from './order';
export { fitPose, solveFour, supportOf } from './pose';
