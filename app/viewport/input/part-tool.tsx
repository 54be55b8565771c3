import { useUi } from '../../shared/ui-store';
import { showSheetOf } from '../view/show-sheet';
import { PartOutline } from './PartOutline';
import type { ToolMaker } from './tool';

/** Adds a part to those that are chosen, or takes it out. */
export function alsoChoosePart(part: number): void {
  useUi.setState(({ selectedPart, alsoParts }) => {
    if (selectedPart === null) return { selectedPart: part };
    const next = new Set(alsoParts);
    if (part === selectedPart) {
      const [first] = next;
      next.delete(first!);
      return { selectedPart: first ?? null, alsoParts: next };
    }
    if (!next.delete(part)) next.add(part);
    return { alsoParts: next };
  });
}

export const choosePart = (part: number | null): void =>
  useUi.setState({ selectedPart: part, alsoParts: new Set() });

/** Parts that are chosen, the first one in front. */
export const chosenParts = (): number[] => {
  const { selectedPart, alsoParts } = useUi.getState();
  return selectedPart === null ? [] : [selectedPart, ...alsoParts];
};

/** Chooses parts: a click one, with Shift several. */
export const partTool: ToolMaker = (view) => {
  // A line is drawn around the part under the pointer, or else around the one that is chosen.
  const outline = (under: number | undefined): void =>
    view.outline(under ?? useUi.getState().selectedPart ?? -1);
  return {
    name: 'part',
    cursor: 'pointer',
    hover: (_, hit) => {
      if (hit !== undefined) outline(hit?.part);
    },
    press: (at, hit) => {
      showSheetOf(hit);
      if (hit && at.shift) alsoChoosePart(hit.part);
      else choosePart(hit?.part ?? null);
      outline(hit?.part);
      return null;
    },
    leave: () => {
      if (useUi.getState().selectedPart === null) return false;
      choosePart(null);
      outline(undefined);
      return true;
    },
    overlay: () => <PartOutline view={view} />,
  };
};
