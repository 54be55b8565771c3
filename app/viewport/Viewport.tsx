import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { rgbToHex } from '../../core/color';
import { sentenceOf } from '../../core/errors';
import type { SheetMove } from '../../core/unwrap';
import { type Session, activeLight, useActiveSheet, useProject } from '../project';
import { notify } from '../shared/notify';
import { useLayout } from '../shared/layout-store';
import { isLayoutLook } from '../shared/looks';
import { brushInHand, useUi } from '../shared/ui-store';
import { ArrangeFrame } from './ArrangeFrame';
import { BrushInput } from './brush-input';
import { BrushRing, type RingPlace } from './BrushRing';
import { useContextLoss } from './context-loss';
import { useLayoutMarks } from './layout-marks';
import { LightHandle } from './LightHandle';
import type { Hit } from './picker';
import { PointerControl, type Tool } from './pointer-control';
import { ownerOf } from './shared-texels';
import { StageView } from './stage-view';
import { moveByKey } from './view-keys';
import { paintTarget, strokeOn } from './stroke-style';
import { setActiveView } from './active-view';
import { linkZoom } from './zoom-link';

/** A place on the model under the pointer. */
type FacePlace = Pick<Hit, 'face' | 'point'>;

export interface LayoutActions {
  pick(place: FacePlace | null, add: boolean): void;
  hover(place: FacePlace | null): void;
  /** Chosen islands were dragged over the sheet. */
  move(label: string, move: SheetMove): void;
}

interface Props {
  readonly session: Session;
  readonly tool: Tool;
  /** What the layout tools do, at the stage that has them. */
  readonly layout?: LayoutActions;
  /** Whether chosen triangles are lit up. */
  readonly marks?: boolean;
  /** Shows only the model, whatever the pane setting is. */
  readonly modelOnly?: boolean;
  readonly children?: ReactNode;
}

/** The picture: model and sheet side by side, drawn and painted on. */
export function Viewport({ session, tool, layout, marks = false, modelOnly = false, children }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<StageView | null>(null);
  const before = useRef<{ stage: StageView; session: Session } | null>(null);
  const toolNow = useRef(tool);
  toolNow.current = tool;
  const layoutNow = useRef(layout);
  layoutNow.current = layout;
  const [problem, setProblem] = useState('');
  const { isLost, returns } = useContextLoss(canvas);
  const lostNow = useRef(isLost);
  lostNow.current = isLost;
  const ring = useRef<RingPlace>(null);
  const [hoverPart, setHoverPart] = useState(-1);
  const [drawn, setDrawn] = useState(0);
  const ownMesh = useProject((s) => s.mesh);
  const preview = useLayout((s) => s.preview);
  const mesh = preview && layout ? preview.mesh : ownMesh;
  const sheets = useProject((s) => s.document?.sheets);
  // Sheets may be renamed without the picture being built anew.
  const sizesText = sheets?.map((s) => s.size).join(' ') ?? '';
  const sizes = useMemo(() => sizesText.split(' ').map(Number), [sizesText]);
  const sheet = useActiveSheet()?.index ?? 0;
  const panes = useUi((s) => (modelOnly ? 'model' : s.panes));
  const split = useUi((s) => s.split);
  const look = useUi((s) => s.look);
  const ground = useUi((s) => s.ground);
  const hidden = useUi((s) => s.hidden);
  const selectedPart = useUi((s) => s.selectedPart);
  const outlined = tool === 'part' ? (hoverPart >= 0 ? hoverPart : (selectedPart ?? -1)) : -1;
  const shownLook = layout || look === 'checker' || !isLayoutLook(look) ? look : 'unlit';
  const settings = {
    panes,
    split,
    look: shownLook,
    ground,
    hidden,
    hoverPart: outlined,
    seams: layout !== undefined,
    sheet,
  } as const;
  const settingsNow = useRef(settings);
  settingsNow.current = settings;

  useEffect(() => {
    if (!mesh || !sizesText || !canvas.current || !host.current || lostNow.current) return;
    let stage: StageView;
    try {
      stage = new StageView(canvas.current, mesh, sizes, settingsNow.current, () => {
        // Only handles follow the picture; nothing else needs to know of a frame.
        if (toolNow.current === 'light' || toolNow.current === 'island') setDrawn((n) => n + 1);
      });
    } catch {
      setProblem(
        'This browser or its graphics driver offers no WebGL2 with float targets, which the picture needs. Switch hardware acceleration on, or use another browser.',
      );
      return;
    }
    if (before.current?.session === session) stage.takeOver(before.current.stage);
    before.current = { stage, session };
    view.current = stage;
    setActiveView(stage);
    const brush = new BrushInput(stage, {
      begin: (stroke) => session.strokeBegin(stroke),
      extend: (samples, lift) => session.strokeExtend(samples, lift),
      end: () => session.strokeEnd(),
      cancel: () => session.strokeCancel(),
    });
    const control = new PointerControl(canvas.current, stage, brush, {
      tool: () => toolNow.current,
      startStroke: (pane, hit, at) => {
        const { mesh: m, surface } = useProject.getState();
        // A stroke must never be made blind.
        if (lostNow.current) return false;
        if (!surface || !m) {
          notify('The surface is still being measured; painting can begin in a moment.');
          return false;
        }
        const target = paintTarget();
        if ('refused' in target) {
          notify(target.refused);
          return false;
        }
        try {
          const { size } = brushInHand(useUi.getState());
          const part = m.parts[ownerOf(surface, hit).part]!;
          brush.begin(pane, at, strokeOn(target, part), size, surface);
        } catch (error) {
          notify(sentenceOf(error));
          return false;
        }
        showSheetOf(hit);
        return true;
      },
      pickFace: (hit, add) => {
        showSheetOf(hit);
        layoutNow.current?.pick(hit, add);
      },
      isChosen: (hit) => useLayout.getState().chosen.has(hit.face),
      moveChosen: (move) => layoutNow.current?.move('Move islands', move),
      pickPart: (hit) => {
        showSheetOf(hit);
        useUi.setState({ selectedPart: hit?.part ?? null });
      },
      pickColor: (hit) => {
        const color = stage.colorAt(hit);
        if (color) useUi.setState({ color: rgbToHex(color), picking: false });
        else notify('Nothing is painted there yet.');
      },
      aimLight: (hit, gesture) => {
        const light = activeLight();
        if (!light) return;
        const direction = [hit.normal.x, hit.normal.y, hit.normal.z].map((n) => Number(n.toFixed(4)));
        void session.command(
          {
            do: 'patch-light',
            light: light.id,
            patch: { key: { direction: direction as [number, number, number] } },
          },
          gesture,
        );
      },
      hover: (at) => {
        ring.current?.put(at);
        if (at && at.hit === undefined) return;
        if (toolNow.current === 'seam') layoutNow.current?.hover(at?.hit ?? null);
        setHoverPart(at?.hit?.part ?? -1);
        useUi.setState({ under: at?.hit ? stage.colorAt(at.hit) : null });
      },
      zoomed: (x, y, factor) => linkZoom.fromModel({ x, y, factor }),
      panned: (dx, dy) => linkZoom.panFromModel({ dx, dy }),
    });
    const detachLink = linkZoom.attachModel((x, y, factor) => {
      stage.rig.zoomAt(x, y, factor);
      stage.cameraMoved();
    });
    const stopSheet = session.whenSheet((sheet) => stage.setSheet(sheet));
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width > 0 && height > 0) stage.resize(width, height);
    });
    watch.observe(host.current);
    const keys = (e: KeyboardEvent): void => {
      if (e.key === 'Escape') control.cancel();
    };
    window.addEventListener('keydown', keys);
    return () => {
      window.removeEventListener('keydown', keys);
      detachLink();
      watch.disconnect();
      stopSheet();
      control.dispose();
      stage.dispose();
      setActiveView(null);
      view.current = null;
    };
  }, [mesh, sizes, sizesText, session, returns]);

  useEffect(() => {
    view.current?.change(settingsNow.current);
  }, [panes, split, shownLook, ground, hidden, outlined, sheet, layout !== undefined]); // eslint-disable-line react-hooks/exhaustive-deps
  useLayoutMarks(view, mesh, sizes, shownLook, layout !== undefined, marks);

  if (problem)
    return (
      <div className="view-problem" role="alert">
        {problem}
      </div>
    );
  return (
    <div className={`viewport tool-${tool}`} ref={host} data-testid="viewport">
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label="Model and sheet"
        aria-description="Arrow keys turn the model, with Shift they move it; + and − come nearer and farther."
        onKeyDown={(e) => {
          const by = e.ctrlKey || e.metaKey || e.altKey;
          if (!by && view.current && moveByKey(view.current, e)) e.preventDefault();
        }}
      />
      {tool === 'paint' && <BrushRing place={ring} />}
      {tool === 'light' && view.current && <LightHandle view={view.current} drawn={drawn} />}
      {tool === 'island' && layout && mesh && !preview && view.current && (
        <ArrangeFrame view={view.current} mesh={mesh} drawn={drawn} onMove={layout.move} />
      )}
      {panes === 'both' && <Divider host={host} />}
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

/** What was touched is seen on its sheet too. */
function showSheetOf(hit: Hit | null): void {
  if (hit) useUi.setState({ sheet: hit.sheet });
}

/** Moves the border between model and sheet. */
function Divider({ host }: { readonly host: React.RefObject<HTMLDivElement | null> }) {
  const split = useUi((s) => s.split);
  const moveTo = (value: number): void => useUi.setState({ split: Math.min(0.85, Math.max(0.2, value)) });
  return (
    <div
      className="divider"
      role="separator"
      aria-orientation="vertical"
      aria-label="Border between model and sheet"
      aria-valuenow={Math.round(split * 100)}
      tabIndex={0}
      style={{ left: `${split * 100}%` }}
      onKeyDown={(e) => {
        if (e.key === 'ArrowLeft') moveTo(split - 0.02);
        if (e.key === 'ArrowRight') moveTo(split + 0.02);
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        e.stopPropagation();
        if (!e.currentTarget.hasPointerCapture(e.pointerId) || !host.current) return;
        const box = host.current.getBoundingClientRect();
        moveTo((e.clientX - box.left) / box.width);
      }}
      onDoubleClick={() => moveTo(0.66)}
    />
  );
}
