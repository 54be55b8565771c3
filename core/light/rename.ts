import type { LightPlan } from './light-plan';

/** A plan when parts are called otherwise. @param follow puts things of parts under their new names */
export function renamedPlan(
  plan: LightPlan,
  names: ReadonlyMap<string, string>,
  follow: <V>(list: readonly (readonly [string, V])[], names: ReadonlyMap<string, string>) => [string, V][],
): LightPlan {
  return {
    ...plan,
    parts: follow(plan.parts, names),
    steps: plan.steps && { ...plan.steps, ramps: follow(plan.steps.ramps, names) },
    standIns: plan.standIns.map((s) =>
      'part' in s.of ? { ...s, of: { part: names.get(s.of.part) ?? s.of.part } } : s,
    ),
  };
}

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
