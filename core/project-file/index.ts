export { readMeasured, writeMeasured } from './measured-file';
export { packModel, unpackModel } from './model-json';
export { type ProjectData, readProjectFile, writeProjectFile } from './project-file';
