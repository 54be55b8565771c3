export * from './chart';
export * from './rest-shape';
export * from './conformal';
export * from './crossings';
export * from './flatten';
export * from './measures';
export * from './edge-path';
export * from './auto-charts';
export * from './natural-charts';
export * from './sight';
export * from './seam-worth';
export * from './outline';
export * from './pack-islands';
export * from './corner-uvs';
export * from './layout-measures';
export * from './heat';
export * from './unwrap-model';
export * from './edit-layout';
export * from './projections';
export * from './pack-layout';
export * from './seam-edges';
export * from './layout-edit';
export * from './health';
export * from './mend';
export * from './twins';
export * from './arrange';
export * from './border-lines';
export { stepsWithin, type CutPlan, type PlanStep } from './natural-plan';
export * from './seam-wishes';
export * from './slide-seam';
export * from './cut-through';
export {
  doneAside,
  doneHere,
  doComponentJob,
  type ComponentAnswer,
  type ComponentJob,
  type Working,
} from './component-work';
