export { colorPart, PartColor } from './PartColor';
