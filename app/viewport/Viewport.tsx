import './viewport.css';
import './marks.css';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import {
  isUntouchedProject,
  useUntouchedParts,
  type Session,
  useActiveSheet,
  useMatchView,
  useProject,
  useShownDetail,
} from '../project';
import { backdropsOf, withBackdrops } from '../../core/mesh';
import { useLayout } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { isOfLayout, PAINT, shownLayer } from '../shared/shown';
import { useUi, useHover } from '../shared/ui-store';
import { BackdropOutline } from './BackdropOutline';
import { Divider } from './Divider';
import { useContextLoss } from './gl/context-loss';
import type { Mode } from './gl/model-pass';
import { checkLightTool } from './input/check-light-tool';
import { colorTool } from './input/color-tool';
import { Navigator } from './input/navigator';
import { PointerControl } from './input/pointer-control';
import { LOOK_TOOL, type PointerAt } from './input/tool';
import { moveByKey } from './input/view-keys';
import { useLayoutMarks } from './view/layout-marks';
import type { Hit } from './view/picker';
import { usePoseMap } from './pose/use-pose-map';
import { usePosedView } from './pose/use-posed-view';
import { useViewport, useTool, useView } from './view/viewport-context';
import { hasSameForm } from './view/same-form';
import { useToonNormals } from './view/toon-normals';
import { useShownDistance } from './view/shown-distance';
import { useShownRamps } from './view/shown-ramps';
import { StageView, type StageSettings } from './view/stage-view';
import { wiresOf } from './view/wires';

interface Props {
  readonly session: Session;
  /** Seams are drawn, and the layout may be looked at. */
  readonly isOnLayout: boolean;
  /** The model may stand in a pose. */
  readonly isPosed: boolean;
  /** The right button was clicked over the picture. */
  readonly onMenu: (at: PointerAt, hit: Hit | null) => void;
  readonly children?: ReactNode;
}

/** The mesh with which the picture was built, as long as only its layout has changed since. */
function useForm<M extends Parameters<typeof hasSameForm>[0]>(mesh: M | null): M | null {
  const form = useRef(mesh);
  if (!mesh || !form.current || !hasSameForm(form.current, mesh)) form.current = mesh;
  return form.current;
}

/** The picture: model and sheet, drawn and worked on. */
export function Viewport({ session, isOnLayout, isPosed, onMenu, children }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const host = useRef<HTMLDivElement>(null);
  const before = useRef<{ stage: StageView; session: Session } | null>(null);
  const menuNow = useRef(onMenu);
  menuNow.current = onMenu;
  const viewport = useViewport();
  const shownView = useView();
  const stageTool = useTool();
  const [problem, setProblem] = useState('');
  const { isLost, returns } = useContextLoss(canvas);
  const lostNow = useRef(isLost);
  lostNow.current = isLost;
  const ownMesh = useProject((s) => s.mesh);
  const preview = useLayout((s) => s.preview);
  // A layout that is looked at is the model's alone; its backdrops stand behind it all the same.
  const looked = useMemo(
    () => preview && ownMesh && withBackdrops(preview.mesh, backdropsOf(ownMesh)),
    [preview, ownMesh],
  );
  const mesh = looked && isOnLayout ? looked : ownMesh;
  const form = useForm(mesh);
  const sheets = useProject((s) => s.document?.sheets);
  // Sheets may be renamed without the picture being built anew.
  const sizesText = sheets?.map((s) => s.size).join(' ') ?? '';
  const sizes = useMemo(() => sizesText.split(' ').map(Number), [sizesText]);

  // A view of another form is about to go: nothing of this one may reach it.
  const view = shownView?.form === form ? shownView : null;
  const picking = useUi((s) => s.picking);
  const aimsLamp = useUi((s) => s.aiming === 'check');
  const maker = picking ? colorTool : aimsLamp ? checkLightTool : stageTool;
  const tool = useMemo(() => (view ? maker(view) : null), [view, maker]);
  const toolNow = useRef(tool);
  toolNow.current = tool;

  const settings = useSettings(isOnLayout);
  const settingsNow = useRef(settings);
  settingsNow.current = settings;

  useEffect(() => {
    if (!form || !sizesText || !canvas.current || !host.current || lostNow.current) return;
    let stage: StageView;
    try {
      stage = new StageView(canvas.current, form, sizes, settingsNow.current);
    } catch {
      setProblem(
        'This browser or its graphics driver offers no WebGL2 with float targets, which the picture needs. Switch hardware acceleration on, or use another browser.',
      );
      return;
    }
    if (before.current?.session === session) stage.takeOver(before.current.stage);
    before.current = { stage, session };
    viewport.setView(stage);
    const resting = LOOK_TOOL(stage);
    const picker = colorTool(stage);
    const control = new PointerControl(canvas.current, stage, new Navigator(stage, viewport.link), {
      fingerLooks: () => useUi.getState().fingerLooks,
      // Nothing may be done blind.
      tool: (alt) => (lostNow.current ? resting : alt ? picker : (toolNow.current ?? resting)),
      hover: (at, isDragging) => {
        const hit = !at ? null : isDragging ? undefined : stage.pick(at);
        toolNow.current?.hover?.(at, hit);
        if (hit === undefined) return;
        const seen = at && stage.pickSeen(at);
        useHover.setState({ under: seen ? stage.colorAt(seen) : null });
      },
      menu: (at) => menuNow.current(at, stage.pick(at)),
    });
    const stopLink = viewport.link.attachModel((x, y, factor) => {
      stage.rig.zoomAt(x, y, factor);
      stage.cameraMoved();
    });
    const stopSheet = session.whenSheet((sheet) => {
      if (!useMatchView.getState().heatSheet) stage.setSheet(sheet);
    });
    const stopDetail = session.whenDetail((detail) => {
      if (!stage.setDetail(detail))
        notify(
          'This browser’s graphics can’t show a detail sheet for so many sheets. The toon view shows the paint without it.',
        );
    });
    const stopSize = watchSize(host.current, (width, height) => stage.resize(width, height));
    const keys = (e: KeyboardEvent): void => {
      if (e.key !== 'Escape' || e.defaultPrevented || isElsewhere(e)) return;
      if (!control.cancel() && !toolNow.current?.leave?.()) useUi.setState({ shown: PAINT });
    };
    window.addEventListener('keydown', keys);
    return () => {
      window.removeEventListener('keydown', keys);
      stopLink();
      stopSize();
      stopSheet();
      stopDetail();
      control.dispose();
      stage.dispose();
      viewport.setView(null);
    };
  }, [form, sizes, sizesText, session, returns, viewport]);

  useEffect(() => view?.change(settings), [view, settings]);
  useEffect(() => {
    if (mesh) view?.setLayout(mesh);
  }, [view, mesh]);
  useEffect(
    () => view?.setWires(settings.wires && mesh ? wiresOf(mesh) : null),
    [view, mesh, settings.wires],
  );
  usePosedView(view, mesh, isPosed);
  usePoseMap(view, session, isPosed);
  useShownRamps(view, mesh);
  useShownDistance(view, session);
  useToonNormals(view);
  useLayoutMarks(view, mesh, sizes, useShown(isOnLayout), isOnLayout);

  if (problem)
    return (
      <div className="view-problem" role="alert">
        {problem}
      </div>
    );
  return (
    <div className="viewport" ref={host} data-testid="viewport" style={{ cursor: tool?.cursor }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label="Model and sheet"
        aria-description="Arrow keys turn the model, with Shift they move it; + and − come nearer and farther."
        onKeyDown={(e) => {
          const by = e.ctrlKey || e.metaKey || e.altKey;
          if (!by && view && moveByKey(view, e)) e.preventDefault();
        }}
      />
      {tool?.overlay?.()}
      {view && mesh && <BackdropOutline view={view} mesh={mesh} />}
      {settings.panes.right !== null && <Divider host={host} />}
      {isLost && (
        <p className="view-lost" role="status">
          The graphics driver took the picture away. Painting rests until it is back; nothing that was painted
          is lost.
        </p>
      )}
      {children}
    </div>
  );
}

/** What the model shows here: distortion only where the layout is worked on. */
function useShown(isOnLayout: boolean) {
  const shown = useUi((s) => s.shown);
  return !isOnLayout && isOfLayout(shown) && shown.of !== 'checker' ? PAINT : shown;
}

function useSettings(isOnLayout: boolean): StageSettings {
  const shown = useShown(isOnLayout);
  const light = useUi((s) => s.light);
  const panes = useUi((s) => s.panes);
  const ground = useUi((s) => s.ground);
  const hidden = useUi((s) => s.hidden);
  const untouched = useUntouchedParts();
  const lights = useUi((s) => s.checkLights);
  const toon = useUi((s) => s.toon);
  const exact = useUi((s) => s.exact);
  const wires = useUi((s) => s.wires);
  const pose = useUi((s) => s.pinned);
  const height = useUi((s) => s.pinnedHeight);
  const sheet = useActiveSheet()?.index ?? 0;
  const isBare = useProject(isUntouchedProject);
  const isUntouched = isBare && shown.of !== 'distance' && shown.of !== 'pose';
  const detail = useShownDetail();
  const mode: Mode =
    shown.of === 'checker'
      ? 'checker'
      : shown.of === 'heat'
        ? shown.heat === 'angle'
          ? 'heatOneWay'
          : 'heatBothWays'
        : shown.of === 'distance' || shown.of === 'pose'
          ? 'unlit'
          : detail !== null
            ? 'formed'
            : shownLayer(shown) !== null && shown.of === 'mask'
              ? 'unlit'
              : light;
  const pinned = useMemo(() => pose && { pose, height }, [pose, height]);
  return useMemo(
    () => ({
      panes,
      mode,
      lights,
      toon,
      exact,
      isUntouched,
      ground,
      seams: isOnLayout,
      wires,
      hidden,
      untouched,
      sheet,
      pinned,
    }),
    [
      panes,
      mode,
      lights,
      toon,
      exact,
      isUntouched,
      ground,
      isOnLayout,
      wires,
      hidden,
      untouched,
      sheet,
      pinned,
    ],
  );
}

/** Calls back with the size of an element, also when it comes to lie on a screen with other pixels. */
function watchSize(element: HTMLElement, onSize: (width: number, height: number) => void): () => void {
  const measure = (): void => {
    const { clientWidth, clientHeight } = element;
    if (clientWidth > 0 && clientHeight > 0) onSize(clientWidth, clientHeight);
  };
  const sizes = new ResizeObserver(measure);
  sizes.observe(element);
  let density: MediaQueryList;
  const watchDensity = (): void => {
    density = matchMedia(`(resolution: ${window.devicePixelRatio}dppx)`);
    density.addEventListener('change', changed, { once: true });
  };
  const changed = (): void => {
    measure();
    watchDensity();
  };
  watchDensity();
  return () => {
    sizes.disconnect();
    density.removeEventListener('change', changed);
  };
}

/** Escape that closes a dialog or a menu, or ends typing, isn't the picture's. */
const isElsewhere = ({ target }: KeyboardEvent): boolean =>
  target instanceof Element &&
  target.closest('[role="dialog"], .modal, .dropdown-menu, .show, input:not([type="range"]), textarea') !==
    null;
