import type { Session } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';

/** What the deliveries need is fetched when the first is asked for. */
const deliveries = () => import('./deliveries');

/** Everything that leaves the project, with what is set at the Deliver stage. */
export const deliverCommands = (session: Session): ListedCommand[] => [
  {
    id: 'save-project',
    title: 'Download the project file',
    keys: 'mod+s',
    run: () => deliveries().then((d) => d.saveProject(session)),
  },
  ...inStages(
    ['deliver'],
    [
      {
        id: 'save-albedo',
        title: 'Download the albedo of every sheet',
        keys: '',
        run: () => deliveries().then((d) => d.saveAlbedo(session)),
      },
      {
        id: 'save-layers',
        title: 'Download the layers of every sheet as OpenRaster',
        keys: '',
        run: () => deliveries().then((d) => d.saveLayers(session)),
      },
      {
        id: 'bring-back',
        title: 'Read an OpenRaster or PNG file again that was painted on in another program',
        keys: '',
        run: () => import('./bring-back').then((b) => b.openBack(session, 0)),
      },
      {
        id: 'save-model',
        title: 'Download the unlit model with its albedo',
        keys: '',
        run: () => deliveries().then((d) => d.saveModel(session)),
      },
      {
        id: 'save-detail',
        title: 'Download the detail sheet of every sheet',
        keys: '',
        run: () => deliveries().then((d) => d.saveDetail(session)),
      },
      {
        id: 'save-toon-model',
        title: 'Download the model for a toon shader',
        keys: '',
        run: () => deliveries().then((d) => d.saveToonModel(session)),
      },
      {
        id: 'save-ramps',
        title: 'Download the ramp sheet',
        keys: '',
        run: () => deliveries().then((d) => d.saveRamps()),
      },
      {
        id: 'save-report',
        title: 'Download the report of what is delivered',
        keys: '',
        run: () => deliveries().then((d) => d.saveReport()),
      },
      {
        id: 'save-palette-strip',
        title: 'Download the palette as a strip',
        keys: '',
        run: () => deliveries().then((d) => d.savePaletteStrip()),
      },
      {
        id: 'save-palette-tokens',
        title: 'Download the palette as design tokens',
        keys: '',
        run: () => deliveries().then((d) => d.savePaletteTokens()),
      },
      {
        id: 'save-recipe',
        title: 'Download the recipe',
        keys: '',
        run: () => deliveries().then((d) => d.saveRecipe(session)),
      },
    ],
  ),
];
