export { alignTemplate, sampleWindow } from './patches';
export { addDetail, countChanges } from './detail';
