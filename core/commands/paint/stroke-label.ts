import type { StrokeWish, ToolName } from '../../paint';

/** What a stroke of each tool is called. */
const STROKES: Readonly<Record<Exclude<ToolName, 'tone'>, string>> = {
  brush: 'Paint stroke',
  soften: 'Soften',
  smear: 'Smear',
  copy: 'Copy from another place',
  through: 'Paint through a picture',
  fill: 'Fill an area',
};

export function strokeLabel(stroke: StrokeWish): string {
  if ('erase' in stroke && stroke.erase) return 'Erase';
  if (stroke.tool !== 'tone') return STROKES[stroke.tool];
  return stroke.lightness < 0 ? 'Deepen' : 'Lift';
}
