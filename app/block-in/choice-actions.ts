import { grownFaces, otherFaces, shrunkFaces, withMirrored } from '../../core/region';
import { freeRegionName, type Session, useProject } from '../project';
import { chooseNoFaces, someFacesChosen, useFaceChoice } from '../shared/face-choice';
import { topologyFor } from '../shared/layout-store';
import { notify, undoable } from '../shared/notify';
import { localLayerFor, swatchOf } from './PartColor';

export type ChoiceChange = 'grow' | 'shrink' | 'invert' | 'mirror';

/** Changes which faces are chosen. Lines that cut through some of them hold for what they were drawn over only, and go. */
export function changeChoice(how: ChoiceChange): void {
  const { mesh } = useProject.getState();
  if (!mesh) return;
  const topology = topologyFor(mesh);
  useFaceChoice.setState(({ faces }) => {
    switch (how) {
      case 'grow':
        return { faces: grownFaces(mesh, topology, faces), cuts: [] };
      case 'shrink':
        return { faces: shrunkFaces(mesh, topology, faces), cuts: [] };
      case 'invert':
        return { faces: otherFaces(mesh.faceParts.length, faces), cuts: [] };
      case 'mirror':
        return { faces: withMirrored(mesh, faces), cuts: [] };
    }
  });
}

/** What is chosen, as a region of a name that none has yet. */
function chosenRegion() {
  const { faces, cuts } = useFaceChoice.getState();
  return { name: freeRegionName([...faces]), faces: [...faces].sort((a, b) => a - b), cuts: [...cuts] };
}

/** Keeps what is chosen as a region. */
export async function keepChoice(session: Session): Promise<void> {
  if (!someFacesChosen(useFaceChoice.getState())) return;
  const region = chosenRegion();
  const done = await session.command({ do: 'add-region', region });
  if (!done) return;
  chooseNoFaces();
  notify(`Kept as the region “${region.name}”: masks, strokes and colours can hold to it.`);
}

/** Gives what is chosen a local colour of its own. */
export async function colorChoice(session: Session, color: string): Promise<void> {
  if (!someFacesChosen(useFaceChoice.getState())) return;
  const region = chosenRegion();
  const done = await session.deed(`Colour ${region.name}`, async (as) => {
    const layer = await localLayerFor(as);
    if (layer === undefined) return null;
    return as.command({ do: 'color-faces', layer, region, color, swatch: swatchOf(color) });
  });
  if (!done) return;
  chooseNoFaces();
  undoable(session, `“${region.name}” has its own colour now, and is kept as a region.`)(done);
}
