import type { ExportItem } from '../../core/delivery';
import type { Session } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';

/** What the deliveries need is fetched when the first is asked for. */
const deliveries = () => import('./deliveries');

/** What leaves alone: id and title of its command. */
const ALONE: readonly (readonly [ExportItem, string, string])[] = [
  ['albedo', 'save-albedo', 'Download the albedo of every sheet'],
  ['layers', 'save-layers', 'Download the layers of every sheet as OpenRaster'],
  ['layer-pictures', 'save-layer-pictures', 'Download every layer as a picture of its own'],
  ['model', 'save-model', 'Download the unlit model with its albedo'],
  ['obj', 'save-obj', 'Download the model as OBJ with its materials'],
  ['layout', 'save-layout-picture', 'Download the layout as a picture of the sheet’s size'],
  ['detail', 'save-detail', 'Download the detail sheet of every sheet'],
  ['toon-model', 'save-toon-model', 'Download the model for a toon shader'],
  ['ramps', 'save-ramps', 'Download the ramp sheet'],
  ['report', 'save-report', 'Download the report of what is delivered'],
  ['palette-strip', 'save-palette-strip', 'Download the palette as a strip'],
  ['palette-tokens', 'save-palette-tokens', 'Download the palette as design tokens'],
  ['recipe', 'save-recipe', 'Download the recipe'],
];

/** Everything that leaves the project, with what is set at the Deliver stage. */
export const deliverCommands = (session: Session): ListedCommand[] => [
  {
    id: 'save-project',
    title: 'Download the project file',
    keys: 'mod+s',
    run: () => deliveries().then((d) => d.deliverExport(session, 'project')),
  },
  {
    id: 'deliver-all',
    title: 'Download all that is ticked as one zip, as it was set last',
    keys: 'mod+shift+s',
    run: () => deliveries().then((d) => d.deliverAll(session)),
  },
  ...inStages(
    ['deliver'],
    [
      {
        id: 'show-in-engine',
        title: 'See what is delivered as an engine shows it, beside the painting',
        keys: 'mod+e',
        run: () => import('./engine/engine-store').then((e) => e.showInEngine(session)),
      },
      {
        id: 'check-delivery',
        title: 'Check what would leave: seams in the mips, bleed, bare texels',
        keys: '',
        run: () => import('./checks').then((c) => c.checkNow(session)),
      },
      ...ALONE.map(([exportItem, id, title]) => ({
        id,
        title,
        keys: '',
        run: () => deliveries().then((d) => d.deliverExport(session, exportItem)),
      })),
      {
        id: 'bring-back',
        title: 'Read an OpenRaster or PNG file again that was painted on in another program',
        keys: '',
        run: () => import('./bring-back').then((b) => b.openBack(session, 0)),
      },
    ],
  ),
];
