import { useEffect } from 'react';
import { create } from 'zustand';
import { at3, looseLine, pointCount, type InkLine } from '../../../core/ink';
import { useActiveNode } from '../../project';
import { useInk } from '../../shared/ink-store';
import { useEveryPicture, type PanePoint, type StageView } from '../../viewport';
import { handlesOf, isBehind } from './ink-near';

interface Preview {
  readonly pane: PanePoint['pane'];
  readonly points: readonly { readonly x: number; readonly y: number }[];
}

const usePreview = create<Preview>(() => ({ pane: 'model', points: [] }));

/** What the hand has drawn so far, before curves are fitted to it. */
export const preview = {
  show: (pane: PanePoint['pane'], points: Preview['points']): void =>
    usePreview.setState({ pane, points: [...points] }),
};

const path = (points: Preview['points']): string => points.map(({ x, y }) => `${x},${y}`).join(' ');

/** Chosen lines with their points, and what is being drawn. */
export function InkMarks({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const node = useActiveNode();
  const { chosen, point, first } = useInk();
  const shown = usePreview();
  useGrowingThere(node?.kind === 'ink' ? node.lines : null);
  const pane = view.pane('model');
  const under = view.pane(shown.pane);
  const lines = node?.kind === 'ink' ? node.lines.filter((line) => chosen.includes(line.id)) : [];
  const project = (p: readonly [number, number, number]): { x: number; y: number } => view.project(p);
  const start = first && project(first);
  return (
    <>
      {under && shown.points.length > 1 && (
        <svg
          className="ink-marks"
          style={{ left: under.x }}
          width={under.width}
          height={under.height}
          aria-hidden
        >
          <polyline className="drawn" points={path(shown.points)} />
        </svg>
      )}
      {pane && (lines.length > 0 || start) && (
        <svg
          className="ink-marks"
          style={{ left: pane.x }}
          width={pane.width}
          height={pane.height}
          aria-hidden
        >
          {lines.map((line) => (
            <polyline key={line.id} points={path(looseLine(line, 12).map(project))} />
          ))}
          {lines.length <= MOST_WITH_POINTS &&
            lines.map((line) => <Points key={line.id} view={view} line={line} project={project} />)}
          {point && <Handles lines={lines} point={point} project={project} />}
          {start && <rect className="on" x={start.x - 4} y={start.y - 4} width={8} height={8} />}
        </svg>
      )}
    </>
  );
}

/** A line that is put together point by point may be undone as a whole: then the next point begins another. */
function useGrowingThere(lines: readonly InkLine[] | null): void {
  const growing = useInk((s) => s.growing);
  useEffect(() => {
    if (growing !== null && lines && !lines.some((line) => line.id === growing))
      useInk.setState({ growing: null, first: null, point: null });
  }, [growing, lines]);
}

/** More chosen lines than this are seen without their points. */
const MOST_WITH_POINTS = 12;

type Project = (p: readonly [number, number, number]) => { x: number; y: number };

function Points({
  view,
  line,
  project,
}: {
  readonly view: StageView;
  readonly line: InkLine;
  readonly project: Project;
}) {
  const point = useInk((s) => s.point);
  return Array.from({ length: pointCount(line) }, (_, i) => {
    const { x, y } = project(at3(line.at, i));
    const isInHand = point?.line === line.id && point.index === i;
    const mark = isInHand ? 'on' : isBehind(view, at3(line.at, i)) ? 'behind' : '';
    return <rect key={i} className={mark} x={x - 3.5} y={y - 3.5} width={7} height={7} />;
  });
}

function Handles({
  lines,
  point,
  project,
}: {
  readonly lines: readonly InkLine[];
  readonly point: { readonly line: number; readonly index: number };
  readonly project: Project;
}) {
  const line = lines.find((l) => l.id === point.line);
  if (!line || point.index >= pointCount(line)) return null;
  const from = project(at3(line.at, point.index));
  return handlesOf(line, point.index).map(({ side, at }) => {
    const { x, y } = project(at);
    return (
      <g key={side}>
        <line x1={from.x} y1={from.y} x2={x} y2={y} />
        <circle cx={x} cy={y} r={4} />
      </g>
    );
  });
}
