import { followNames, type Follower } from '../follow';
import { placedTurn } from '../math';
import type { LightPlan, StandIn } from './light-plan';

/** A plan when the model changes: what holds for parts and the stand-ins go with it. Directions are the world's and stay. */
export const followPlan = (plan: LightPlan, model: Follower): LightPlan => ({
  ...plan,
  parts: followNames(plan.parts, model.names),
  steps: plan.steps && { ...plan.steps, ramps: followNames(plan.steps.ramps, model.names) },
  standIns: plan.standIns.map((standIn) => followStandIn(standIn, model)),
});

function followStandIn(standIn: StandIn, model: Follower): StandIn {
  const { of, centre, turn, half } = standIn;
  return {
    ...standIn,
    of: 'part' in of ? { part: model.names.get(of.part) ?? of.part } : of,
    centre: [...model.place(centre)],
    turn: model.placing ? placedTurn(turn, model.placing) : turn,
    half: half.map((h) => model.part(h)) as StandIn['half'],
  };
}
