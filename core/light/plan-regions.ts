import type { LightPlan } from './light-plan';

/** A plan without what holds for a region. */
export const planWithoutRegion = (plan: LightPlan, region: number): LightPlan => {
  if (!regionsOfPlan(plan).includes(region)) return plan;
  return {
    ...plan,
    standIns: plan.standIns.filter(({ of }) => !('region' in of && of.region === region)),
    regions: plan.regions.filter(([id]) => id !== region),
  };
};

/** The regions that a plan has something for. */
export const regionsOfPlan = ({ standIns, regions }: LightPlan): number[] => [
  ...standIns.flatMap(({ of }) => ('region' in of ? [of.region] : [])),
  ...regions.map(([id]) => id),
];
