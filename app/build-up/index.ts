export * from './BuildUp';
export * from './layer-actions';
