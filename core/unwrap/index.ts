export * from './flatten-chart';
export * from './pack';
export * from './box-projection';
