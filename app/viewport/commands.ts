import { backdropsOf } from '../../core/mesh';
import { REST } from '../../core/motion';
import { inStages, type ListedCommand } from '../shared/commands';
import { notify } from '../shared/notify';
import { besidePane, nextPanes, onlyPane, PANE_KINDS, swapPanes } from '../shared/panes';
import { PAINT, PLAIN_LIGHTS, type PaintLight } from '../shared/shown';
import { useUi } from '../shared/ui-store';
import { seesAlbedo, untouchedParts, usePose, useProject } from '../project';
import { choosePart, chosenParts } from './input/part-tool';
import type { ViewportContext } from './view/viewport-context';

const PANE_WORDS = { model: 'model', sheet: 'sheet', reference: 'reference' } as const;

/** Shows the albedo in a light; if it is shown so already, unlit again, or what of the detail sheet the hand works on. */
function show(light: PaintLight): void {
  const isShown = seesAlbedo() && useUi.getState().light === light;
  useUi.setState({ shown: PAINT, light: isShown ? 'unlit' : light, seesAlbedo: !isShown });
}

/** Goes through the parts that are shown, round and round. */
function stepPart(by: number): void {
  const { mesh } = useProject.getState();
  const { selectedPart } = useUi.getState();
  const untouched = untouchedParts();
  const shown = [...(mesh?.parts.keys() ?? [])].filter((part) => !untouched.has(part));
  if (shown.length === 0) return;
  const at = selectedPart === null ? -1 : shown.indexOf(selectedPart);
  const next = at < 0 ? (by > 0 ? 0 : shown.length - 1) : (at + by + shown.length) % shown.length;
  choosePart(shown[next]!);
}

/** Plays the clip in hand, or the model's first. */
function playClip(): void {
  const { motion, pose, playing } = usePose.getState();
  const clip = pose.clip ?? motion?.clips[0]?.name;
  if (clip === undefined) notify('This model’s file has no clips to play.');
  else usePose.setState({ pose: { ...pose, clip }, playing: !playing });
}

/** What a menu offers of how a part is seen. */
export const SEEN_ENTRIES = ['frame-part', 'part-hide', 'part-alone', 'show-all-parts'] as const;

export const viewCommands = (viewport: ViewportContext): ListedCommand[] => [
  {
    id: 'look-unlit',
    title: 'Show the paint unlit',
    keys: 'u',
    run: () => useUi.setState({ light: 'unlit', shown: PAINT, seesAlbedo: true }),
  },
  ...inStages(
    ['paint', 'deliver'],
    [
      {
        id: 'play-clip',
        title: 'Play or pause the clip',
        keys: 'alt+p',
        run: playClip,
      },
      {
        id: 'rest-pose',
        title: 'Show the rest pose',
        keys: 'alt+r',
        run: () => usePose.setState({ pose: REST, playing: false }),
      },
    ],
  ),
  { id: 'look-lit', title: 'Show the lit check', keys: 'l', run: () => show('lit') },
  { id: 'look-toon', title: 'Show the toon view', keys: 'shift+t', run: () => show('toon') },
  { id: 'look-values', title: 'Show values', keys: 'v', run: () => show('values') },
  {
    id: 'look-checker',
    title: 'Show the checker',
    keys: 'shift+c',
    run: () => useUi.setState((s) => ({ shown: s.shown.of === 'checker' ? PAINT : { of: 'checker' } })),
  },
  {
    id: 'look-exact',
    title: 'Exact texels: on or off',
    keys: 'e',
    run: () => useUi.setState((s) => ({ exact: !s.exact })),
  },
  {
    id: 'look-wires',
    title: 'Wireframe: on or off',
    keys: 'shift+w',
    run: () => useUi.setState((s) => ({ wires: !s.wires })),
  },
  {
    id: 'check-lamp',
    title: 'Lit check: move the lamp over the model',
    keys: 'shift+l',
    run: () =>
      useUi.setState((s) => ({
        light: s.light === 'toon' ? 'toon' : 'lit',
        shown: PAINT,
        seesAlbedo: true,
        aiming: s.aiming === 'check' ? null : 'check',
      })),
  },
  {
    id: 'check-behind',
    title: 'Lit check: a second lamp from behind, on or off',
    keys: '',
    run: () =>
      useUi.setState(({ checkLights }) => ({ checkLights: { ...checkLights, back: !checkLights.back } })),
  },
  {
    id: 'check-plain',
    title: 'Lit check: one plain lamp again',
    keys: '',
    run: () => useUi.setState({ checkLights: PLAIN_LIGHTS }),
  },
  {
    id: 'panes',
    title: 'Panes: model, model and sheet, sheet in turn',
    keys: 'b',
    run: () => useUi.setState((s) => ({ panes: nextPanes(s.panes) })),
  },
  {
    id: 'panes-swap',
    title: 'Panes: swap left and right',
    keys: 'x',
    run: () => useUi.setState((s) => ({ panes: swapPanes(s.panes) })),
  },
  ...PANE_KINDS.flatMap((kind, i) => [
    {
      id: `pane-${kind}`,
      title: `Panes: the ${PANE_WORDS[kind]} alone`,
      keys: `shift+${i + 5}`,
      run: () => useUi.setState((s) => ({ panes: onlyPane(s.panes, kind) })),
    },
    {
      id: `beside-${kind}`,
      title: `Panes: the ${PANE_WORDS[kind]} beside, or not`,
      keys: `mod+alt+${i + 5}`,
      run: () => useUi.setState((s) => ({ panes: besidePane(s.panes, kind) })),
    },
  ]),
  {
    id: 'front',
    title: 'View from the front',
    keys: 'shift+1',
    run: () => viewport.view?.camera.look('front'),
  },
  { id: 'side', title: 'View from the side', keys: 'shift+2', run: () => viewport.view?.camera.look('side') },
  { id: 'top', title: 'View from the top', keys: 'shift+3', run: () => viewport.view?.camera.look('top') },
  { id: 'free', title: 'Three-quarter view', keys: 'shift+4', run: () => viewport.view?.camera.look('free') },
  {
    id: 'home',
    title: 'Home: the whole model from the start',
    keys: '0',
    run: () => viewport.view?.camera.home(),
  },
  {
    id: 'back',
    title: 'Back to the last camera',
    keys: 'backspace',
    run: () => viewport.view?.camera.goBack(),
  },
  { id: 'frame', title: 'Frame the whole model', keys: 'f', run: () => viewport.view?.camera.frame(null) },
  {
    id: 'frame-part',
    title: 'Frame the chosen part',
    keys: 'shift+z',
    run: () => viewport.view?.camera.frame(useUi.getState().selectedPart),
  },
  { id: 'fit-sheet', title: 'Frame the whole sheet', keys: 'shift+f', run: () => viewport.view?.flat.fit() },
  {
    id: 'pin-view',
    title: 'Small second view: keep the present camera, or close it',
    keys: 'shift+p',
    run: () => useUi.setState((s) => ({ pinned: s.pinned ? null : (viewport.view?.rig.pose() ?? null) })),
  },
  ...inStages(
    ['block-in', 'model'],
    [
      { id: 'part-next', title: 'Choose the next part', keys: 'q', run: () => stepPart(1) },
      { id: 'part-previous', title: 'Choose the part before', keys: 'shift+q', run: () => stepPart(-1) },
    ],
  ),
  {
    id: 'part-hide',
    title: 'Hide the chosen parts, or show them again',
    keys: 'shift+j',
    run: () => {
      const parts = chosenParts();
      useUi.setState(({ hidden }) => {
        const next = new Set(hidden);
        const isShowing = parts.every((p) => next.has(p));
        for (const p of parts) {
          if (isShowing) next.delete(p);
          else next.add(p);
        }
        return { hidden: next };
      });
    },
  },
  {
    id: 'part-alone',
    title: 'See the chosen parts alone, or all again',
    keys: 'i',
    run: () => {
      const parts = new Set(chosenParts());
      const { mesh } = useProject.getState();
      if (!mesh || parts.size === 0) return;
      const others = mesh.parts.map((_, p) => p).filter((p) => !parts.has(p));
      useUi.setState(({ hidden }) => ({
        hidden:
          hidden.size === others.length && others.every((p) => hidden.has(p)) ? new Set() : new Set(others),
      }));
    },
  },
  {
    id: 'next-backdrop',
    title: 'Paint on the next backdrop, or on the model again',
    keys: 'ctrl+shift+b',
    run: nextBackdrop,
  },
  {
    id: 'show-all-parts',
    title: 'Show every part',
    keys: 'shift+h',
    run: () => useUi.setState({ hidden: new Set() }),
  },
];

/** The model, then each of its backdrops by turns. */
function nextBackdrop(): void {
  const { mesh } = useProject.getState();
  const backdrops = mesh ? backdropsOf(mesh) : [];
  if (backdrops.length === 0) {
    notify('There is no backdrop yet. Add one at the Model stage.');
    return;
  }
  const at = backdrops.findIndex((b) => b.name === useUi.getState().backdrop);
  const next = backdrops[at + 1];
  useUi.setState({ backdrop: next?.name ?? null, sheet: next?.sheet ?? 0 });
  notify(next ? `“${next.name}” is in hand.` : 'The model is in hand.');
}
