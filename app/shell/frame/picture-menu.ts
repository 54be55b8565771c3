import { useProject } from '../../project';
import { PART_ENTRIES } from '../../model';
import { openMenu } from '../../shared/context-menu';
import { useUi, type StageName } from '../../shared/ui-store';
import { ISLAND_ENTRIES } from '../../unwrap';
import { choosePart, chosenParts, SEEN_ENTRIES, type Hit, type PointerAt } from '../../viewport';

const VIEW = [
  'frame',
  'home',
  'back',
  null,
  'front',
  'side',
  'top',
  'free',
  null,
  'pin-view',
  'look-wires',
] as const;

const OF_PART: Partial<Record<StageName, readonly (string | null)[]>> = {
  model: [...PART_ENTRIES, null],
  unwrap: [...ISLAND_ENTRIES, null],
  form: ['part-color', null],
  paint: ['pick', 'part-color', null],
  'block-in': ['part-color', 'part-pick', null],
};

/** What can be done with what lies under the pointer. @param left where the picture begins in the window, CSS pixels */
export function openPictureMenu(
  stage: StageName,
  { screenX, screenY }: PointerAt,
  hit: Hit | null,
  picture: { readonly left: number; readonly top: number },
): void {
  const place = { x: picture.left + screenX, y: picture.top + screenY };
  const { mesh } = useProject.getState();
  if (!hit || !mesh) {
    openMenu({ ...place, title: 'View', entries: [...VIEW, null, 'show-all-parts', 'fit-sheet'] });
    return;
  }
  if (!chosenParts().includes(hit.part)) choosePart(hit.part);
  useUi.setState({ sheet: hit.sheet });
  openMenu({
    ...place,
    title: mesh.parts[hit.part]!,
    entries: [...(OF_PART[stage] ?? []), ...SEEN_ENTRIES, null, ...VIEW.slice(0, 3)],
  });
}
