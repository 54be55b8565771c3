import type { FaceTool } from '../shared/face-choice';

/** Ways to choose faces: what they are called, and what they do. */
export const FACE_TOOL_WORDS: Readonly<Record<FaceTool, { readonly title: string; readonly says: string }>> =
  {
    part: { title: 'Part', says: 'A click chooses a part' },
    brush: { title: 'Faces', says: 'Brush over the faces that are to be chosen' },
    lasso: { title: 'Lasso', says: 'Draw a line around them, on the model or the sheet' },
    rectangle: { title: 'Rectangle', says: 'Drag a rectangle around them' },
    area: { title: 'Area', says: 'Up to the next crease, seam, part or region' },
    side: { title: 'Same facing', says: 'All that hangs together and looks to the same side' },
    shell: { title: 'Shell', says: 'All that hangs together on the model' },
    like: {
      title: 'Like colours',
      says: 'A press lays the colour in hand over what looks alike, from there on',
    },
    island: { title: 'Island', says: 'An island of the layout' },
  };
