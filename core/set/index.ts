export * from './archive';
export * from './asset-facts';
export * from './asset-set';
export * from './consistency';
export * from './follow-set';
export * from './style-guide';
export * from './values-picture';
export * from './flat-colors';
