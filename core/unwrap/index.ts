export * from './segment/chart';
export * from './flatten/rest-shape';
export * from './flatten/conformal';
export * from './flatten/crossings';
export * from './flatten/flatten';
export * from './flatten/measures';
export * from './seams/edge-path';
export * from './segment/auto-charts';
export * from './natural/natural-charts';
export * from './natural/sight';
export * from './seams/seam-worth';
export * from './pack/outline';
export * from './pack/pack-islands';
export * from './corner-uvs';
export * from './flatten/layout-measures';
export * from './flatten/heat';
export * from './unwrap-model';
export * from './edit-layout';
export * from './flatten/projections';
export * from './pack/pack-layout';
export * from './seams/seam-edges';
export * from './layout-edit';
export * from './health';
export * from './mend';
export * from './twins';
export * from './pack/arrange';
export * from './seams/border-lines';
export { stepsWithin, type CutPlan, type PlanStep } from './natural/natural-plan';
export * from './seams/seam-wishes';
export * from './seams/slide-seam';
export * from './seams/cut-through';
export {
  doneAside,
  doneHere,
  doComponentJob,
  type ComponentAnswer,
  type ComponentJob,
  type Working,
} from './natural/component-work';
