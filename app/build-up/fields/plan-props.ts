import type { LightPatch, LightPlan } from '../../../core/light';

/** What a section of a light plan's settings is given. */
export interface PlanProps {
  /** Id of the light that has the plan. */
  readonly light: number;
  readonly plan: LightPlan;
  readonly patch: (change: LightPatch, gesture: string | null) => void;
}
