// Each file is named after the one in the core whose loops it holds.
export { alignTemplate, prepareTemplate } from './align';
export { fitPose, solveFour, supportOf } from './consensus';
export { meansOfCells } from './covered';
export { detailOfCells } from './detail-meter';
export { compareColour, countAbove, strengthen, strengthenByColour, subtract } from './differ';
export { countChanges } from './facts';
export { differFinely } from './fine';
export { cellsOverFrames, framesOverCells, quantileOf } from './focus';
export { readLight } from './gauge';
export { addShifted, asMostSay, changesBetween, grow, majority, setInLines, widenToBand } from './mask';
export { addToPanorama, expectView, showPanorama } from './panorama';
export { halve, layPicture, shrinkBlocks, widenLuma } from './picture';
export { listRegions } from './regions';
export { stepEquations } from './register';
export { addSample, averageColour, countLeaving, middleOfSamples, settle, translate } from './sample-sums';
export { allowances, boxMeans, divideBy, explainByShift, leaveOut, markAbove, markOther, squaresOf } from './unlike';
export { addZones, layZones } from './zones';
