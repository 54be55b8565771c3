export { App } from './App';
export { keepForOffline } from './offline';
