import { DETAILS } from '../../core/document';
import { activeLight, activeNode, type Session } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { DETAIL_WORDS } from '../shared/detail-words';
import { toggleShown, useUi } from '../shared/ui-store';
import {
  addDetail,
  addGroup,
  addOffer,
  addStep,
  changeMask,
  clearChosen,
  duplicateChosen,
  fillChosen,
  flatten,
  groupChosen,
  mergeDown,
  mergeVisible,
  moveChosen,
  paintOnMask,
  removeInHand,
  toggleClip,
  toggleVisible,
  ungroupChosen,
} from './tree/layer-actions';
import { NEW_STEPS, newLayers } from './tree/new-layers';

export function buildUpCommands(session: Session): ListedCommand[] {
  const toggle = (of: 'layer' | 'mask'): void => {
    const node = activeNode();
    if (node) toggleShown(of, node.id);
  };
  return inStages(
    ['paint', 'form', 'block-in'],
    [
      {
        id: 'layer-rename',
        title: 'Rename the chosen layer',
        keys: 'f2',
        run: () => {
          const node = activeNode();
          if (node) useUi.setState({ renaming: { of: 'layer', id: node.id } });
        },
      },
      {
        id: 'layer-up',
        title: 'Chosen layer: one higher',
        keys: 'alt+up',
        run: () => moveChosen(session, 1),
      },
      {
        id: 'layer-down',
        title: 'Chosen layer: one lower',
        keys: 'alt+down',
        run: () => moveChosen(session, -1),
      },
      {
        id: 'layer-hide',
        title: 'Chosen layers: hide or show',
        keys: 'h',
        run: () => toggleVisible(session),
      },
      { id: 'layer-alone', title: 'Chosen layer: see it alone', keys: 'a', run: () => toggle('layer') },
      { id: 'layer-mask', title: 'Chosen layer: see its mask', keys: 'm', run: () => toggle('mask') },
      {
        id: 'layer-paint-mask',
        title: 'Chosen layer: paint on its mask, or on its pixels again',
        keys: 'shift+m',
        run: () => {
          const node = activeNode();
          if (node) void paintOnMask(session, node);
        },
      },
      {
        id: 'layer-clip',
        title: 'Chosen layers: clip to the layer under',
        keys: 'k',
        run: () => toggleClip(session),
      },
      ...newLayers(0).flatMap(({ offers }) =>
        offers.map((offer) => ({
          id: `layer-add-${offer.title.toLowerCase().replaceAll(' ', '-')}`,
          title: `Add a layer: ${offer.title}`,
          keys: offer.title === 'Paint' ? 'mod+shift+n' : '',
          run: () => {
            const light = activeLight()?.id ?? 0;
            const fresh = newLayers(light)
              .flatMap((g) => g.offers)
              .find((o) => o.title === offer.title)!;
            return addOffer(session, fresh);
          },
        })),
      ),
      ...NEW_STEPS.map(({ title, step }) => ({
        id: `mask-add-${title.toLowerCase().replaceAll(' ', '-')}`,
        title: `Add to the mask of the chosen layer: ${title}`,
        keys: '',
        run: () => {
          const node = activeNode();
          if (node) addStep(session, node, step);
        },
      })),
      {
        id: 'mask-invert',
        title: 'Mask of the chosen layer: invert its last step',
        keys: '',
        run: () =>
          changeMask(session, (mask) => mask.with(-1, { ...mask.at(-1)!, invert: !mask.at(-1)!.invert })),
      },
      {
        id: 'mask-take-off',
        title: 'Mask of the chosen layer: remove its last step',
        keys: '',
        run: () => changeMask(session, (mask) => mask.slice(0, -1)),
      },
      ...DETAILS.map((detail) => ({
        id: `layer-add-detail-${detail}`,
        title: `Add to the detail sheet: ${DETAIL_WORDS[detail][0]}`,
        keys: '',
        run: () => void addDetail(session, detail),
      })),
      { id: 'layer-new-group', title: 'Add a group', keys: '', run: () => void addGroup(session) },
      {
        id: 'layer-group',
        title: 'Group the chosen layers',
        keys: 'mod+g',
        run: () => void groupChosen(session),
      },
      { id: 'layer-ungroup', title: 'Ungroup', keys: 'mod+shift+g', run: () => ungroupChosen(session) },
      {
        id: 'layer-duplicate',
        title: 'Duplicate the chosen layers',
        keys: 'mod+d',
        run: () => void duplicateChosen(session),
      },
      {
        id: 'layer-merge',
        title: 'Merge the chosen layer down',
        keys: 'alt+shift+down',
        run: () => void mergeDown(session),
      },
      {
        id: 'layer-merge-visible',
        title: 'Merge what shows into a new layer',
        keys: '',
        run: () => void mergeVisible(session),
      },
      { id: 'layer-flatten', title: 'Flatten the build-up', keys: '', run: () => void flatten(session) },
      {
        id: 'layer-fill',
        title: 'Fill the chosen layer with the colour in hand',
        keys: 'shift+g',
        run: () => fillChosen(session),
      },
      {
        id: 'layer-clear',
        title: 'Clear the chosen layer',
        keys: 'alt+delete',
        run: () => void clearChosen(session),
      },
      {
        id: 'layer-remove',
        title: 'Remove what is chosen',
        keys: 'delete',
        run: () => removeInHand(session),
      },
    ],
  );
}
