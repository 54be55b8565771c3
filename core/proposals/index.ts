export {
  type Proposal,
  type ToldRamps,
  commandOf,
  distanceFor,
  isFlatBeside,
  layerFromRamps,
  lightInUse,
  proposalFor,
  proposalWords,
  refinedBy,
  towardLight,
} from './proposals';
