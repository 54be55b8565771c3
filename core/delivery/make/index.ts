export * from './works';
export * from './report';
export * from './parcel-maker';
export * from './engine-source';
