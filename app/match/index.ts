export { MatchPanel } from './MatchPanel';
