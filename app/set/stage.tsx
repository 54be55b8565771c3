export { SetPage } from './SetPage';
