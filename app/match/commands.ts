import { inStages, type ListedCommand } from '../shared/commands';
import { PAINT } from '../shared/shown';
import { useUi } from '../shared/ui-store';
import type { Session } from '../project';
import type { ViewportContext } from '../viewport';
import { arrange, ARRANGED, toggleTool, useMatch } from './match-ui';
import { ARRANGED_WORDS } from './match-words';

const ARRANGED_KEYS = { beside: 's', over: 'o', wipe: 'w', difference: 'd', flicker: 'g' } as const;

// What they do is fetched when it is first done.
const camera = () => import('./camera/camera-actions');
const fromReference = () => import('./figures/from-reference');

export const matchCommands = (session: Session, viewport: ViewportContext): ListedCommand[] => [
  {
    id: 'match-through',
    title: 'Go to the reference’s camera, or back from it',
    keys: 'home',
    run: async () => (await camera()).toggleThrough(viewport),
  },
  {
    id: 'match-heat',
    title: 'Distance from the reference on model and sheet: on or off',
    keys: 'end',
    run: () =>
      useUi.setState((s) => ({
        shown: s.shown.of === 'distance' ? PAINT : { of: 'distance', difference: 'all' },
      })),
  },
  ...inStages(
    ['match'],
    [
      ...ARRANGED.map((arranged) => ({
        id: `match-${arranged}`,
        title: `Compare: ${ARRANGED_WORDS[arranged][0].toLowerCase()}`,
        keys: ARRANGED_KEYS[arranged],
        run: () => arrange(arranged),
      })),
      {
        id: 'match-colors',
        title: 'Both as they are',
        keys: '1',
        run: () => useMatch.setState({ how: { as: 'colors' } }),
      },
      {
        id: 'match-values',
        title: 'Both in values',
        keys: '2',
        run: () => useMatch.setState({ how: { as: 'values' } }),
      },
      {
        id: 'match-shapes',
        title: 'Both evened out to big shapes',
        keys: '3',
        run: () => useMatch.setState({ how: { as: 'shapes' } }),
      },
      {
        id: 'match-tones',
        title: 'Both in five tones',
        keys: '4',
        run: () => useMatch.setState({ how: { as: 'tones', count: 5 } }),
      },
      {
        id: 'match-few-colors',
        title: 'Both in eight colours',
        keys: '5',
        run: () => useMatch.setState({ how: { as: 'palette', count: 8 } }),
      },
      {
        id: 'match-game-size',
        title: 'Both at game size: on or off',
        keys: '6',
        run: () => useMatch.setState((s) => ({ gameSize: s.gameSize === null ? 128 : null })),
      },
      {
        id: 'match-mirrored',
        title: 'Both mirrored: on or off',
        keys: '7',
        run: () => useMatch.setState((s) => ({ mirrored: !s.mirrored })),
      },
      {
        id: 'match-upside-down',
        title: 'Both upside down: on or off',
        keys: '8',
        run: () => useMatch.setState((s) => ({ upsideDown: !s.upsideDown })),
      },
      {
        id: 'match-outlines',
        title: 'Outlines of one on the other: on or off',
        keys: '9',
        run: () => useMatch.setState((s) => ({ outlines: !s.outlines })),
      },
      {
        id: 'match-find',
        title: 'Find the reference’s camera by the silhouettes',
        keys: '',
        run: async () => (await camera()).findCamera(session, viewport),
      },
      {
        id: 'match-refine',
        title: 'Refine the reference’s camera by the silhouettes',
        keys: '',
        run: async () => (await camera()).refineCamera(session, viewport),
      },
      {
        id: 'match-pairs',
        title: 'Set pairs of places on model and reference: on or off',
        keys: 'p',
        run: () => toggleTool('pairs'),
      },
      {
        id: 'match-mask',
        title: 'Paint the reference’s mask: on or off',
        keys: 'k',
        run: () => toggleTool('mask'),
      },
      {
        id: 'match-spans',
        title: 'Mark lengths on model and reference: on or off',
        keys: 'n',
        run: () => toggleTool('spans'),
      },
      {
        id: 'match-keep',
        title: 'Keep this look',
        keys: 'shift+k',
        run: async () => (await import('./compare/looks')).keepLook(session),
      },
      {
        id: 'match-page',
        title: 'All that was measured on one page',
        keys: '',
        run: () => useMatch.setState({ page: true }),
      },
      {
        id: 'match-palettes',
        title: 'Palettes of the chosen parts from the reference',
        keys: '',
        run: async () => (await fromReference()).takePalettes(session),
      },
      {
        id: 'match-ramps',
        title: 'Ramps of the chosen parts from the reference',
        keys: '',
        run: async () => (await fromReference()).takeRamps(session),
      },
      {
        id: 'match-project',
        title: 'Project the reference onto what it sees',
        keys: '',
        run: async () => (await fromReference()).projectReference(session),
      },
      {
        id: 'match-fill-along',
        title: 'Fill what the reference doesn’t see, along the surface',
        keys: '',
        run: async () => (await fromReference()).fillRest(session, 'along'),
      },
      {
        id: 'match-fill-mirror',
        title: 'Fill what the reference doesn’t see from the other side',
        keys: '',
        run: async () => (await fromReference()).fillRest(session, 'mirror'),
      },
    ],
  ),
];
