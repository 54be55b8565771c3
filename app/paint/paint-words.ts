import type { InkMode } from '../shared/ink-store';
import type { About, Axis, FillScope, PaintTool, Path } from './paint-store';

type Words = readonly [title: string, says: string];

export const TOOL_WORDS: Readonly<Record<PaintTool, Words>> = {
  brush: ['Paint', 'Lays the colour in hand'],
  soften: ['Soften', 'Evens out what lies there, over seams too; held, it is for a moment'],
  smear: ['Smear', 'Drags what lies there along'],
  deepen: ['Deepen', 'Darker, in the same hue'],
  lift: ['Lift', 'Lighter, in the same hue'],
  copy: ['Copy', 'Brings what the layer has at another place, or on the other side'],
  through: ['Through', 'Paints what a reference shows that lies over the model'],
  fill: ['Fill', 'Covers what is pressed: a part, a shell, an island, a region, or what looks alike'],
  lasso: ['Lasso', 'Covers what a line encloses: drawn freely, a rectangle or an ellipse'],
  rectangle: ['Rectangle', 'Covers a rectangle; Shift makes it a square'],
  ellipse: ['Ellipse', 'Covers an ellipse; Shift makes it a circle'],
  ink: ['Ink', 'Draws lines that lie on the surface and stay lines'],
  decal: ['Decal', 'Sets a picture or words on the surface, as a layer of its own'],
};

export const INK_WORDS: Readonly<Record<InkMode, Words>> = {
  draw: ['Drawn', 'A line follows the hand; curves are fitted to it'],
  points: ['Points', 'Press point after point, drag to pull its handles; Escape ends the line'],
  change: [
    'Change',
    'Press a line to choose it, Shift for more; drag points, handles or lines; press twice for a point more',
  ],
};

export const SCOPE_WORDS: Readonly<Record<FillScope, Words>> = {
  part: ['Part', 'The part that is pressed'],
  shell: ['Shell', 'All that hangs together with it'],
  island: ['Island', 'Its island of the layout'],
  region: ['Region', 'The region that it belongs to'],
  like: ['Like colours', 'What looks much the same from there on'],
};

export const PLANE_WORDS: Readonly<Record<Axis, Words>> = {
  x: ['Left and right', 'Mirrored over the plane that parts left from right'],
  y: ['Up and down', 'Mirrored over the plane that parts upper from lower'],
  z: ['Front and back', 'Mirrored over the plane that parts front from back'],
};

export const ABOUT_WORDS: Readonly<Record<About, Words>> = {
  zero: ['Zero', 'Through the zero point of the model'],
  model: ['Model', 'Through the middle of the model'],
  part: ['Part', 'Through the middle of the part under the brush'],
  place: ['Place…', 'Through a place: press it on the model'],
};

export const PATH_WORDS: Readonly<Record<Path, Words>> = {
  free: ['Freely', 'Strokes follow the pointer'],
  line: ['Line', 'Strokes are straight lines: drag one; Shift turns it by steps of 15°'],
  arc: ['Arc', 'Strokes are arcs: drag from end to end, then press through where it is to run'],
};

/** One side of a plane onto the other: in the direction of the axis, and against it. */
export const SIDE_WORDS: Readonly<Record<Axis, readonly [Words, Words]>> = {
  x: [
    ['+X onto −X', 'The layer’s paint on the side of +X takes the place of that on the other'],
    ['−X onto +X', 'The layer’s paint on the side of −X takes the place of that on the other'],
  ],
  y: [
    ['Upper onto lower', 'The layer’s paint on the upper side takes the place of that on the lower'],
    ['Lower onto upper', 'The layer’s paint on the lower side takes the place of that on the upper'],
  ],
  z: [
    ['Front onto back', 'The layer’s paint on the front takes the place of that on the back'],
    ['Back onto front', 'The layer’s paint on the back takes the place of that on the front'],
  ],
};
