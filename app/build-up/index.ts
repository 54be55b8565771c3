export { BuildUp, removeLayer } from './BuildUp';
