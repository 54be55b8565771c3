export { colorPart } from './PartColor';
