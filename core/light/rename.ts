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

/** A plan without the stand-ins of a region. */
export const planWithoutRegion = (plan: LightPlan, region: number): LightPlan => {
  const standIns = plan.standIns.filter(({ of }) => !('region' in of && of.region === region));
  return standIns.length === plan.standIns.length ? plan : { ...plan, standIns };
};
