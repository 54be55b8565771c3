export * from './face-map';
export * from './follower';
export * from './follow-names';
export * from './model-links';
