export { alignTemplate, sampleWindow } from './patches';
export { addDetail, countChanges } from './detail';
export { addSample, addZones, compareColour, readLight, strengthen, strengthenByColour, subtract } from './scene';
