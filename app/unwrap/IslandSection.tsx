import { useMemo, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import { sheetMove, type Projection, type SheetMove } from '../../core/unwrap';
import { Chip } from '../shared/Chip';
import { sheetSizes, useActiveSheet } from '../shared/active-sheet';
import { islandsFor, useLayout, wholeIslands } from '../shared/layout-store';
import { useProject } from '../shared/project-store';
import { saveRegion } from '../shared/regions';
import type { Session } from '../shared/session';
import {
  boxOnSheet,
  DEFAULT_MARGIN,
  editLayout,
  moveAboutMiddle,
  moveEach,
  splitChosen,
  stackTwins,
} from './layout-actions';
import { useLayoutMeasures, type MeasuredLayout } from './use-layout-measures';

type Row = MeasuredLayout['islands'][number];

const COLUMNS: readonly (readonly [
  key: string,
  title: string,
  of: (r: Row) => number,
  show: (r: Row) => string,
])[] = [
  // Model units squared; texels a unit; Sander's L² stretch; per cent of the sheet.
  ['area', 'Area', (r) => r.area, (r) => (r.area < 100 ? r.area.toPrecision(2) : r.area.toFixed(0))],
  ['density', 'Density', (r) => r.density, (r) => r.density.toFixed(0)],
  ['stretch', 'Stretch', (r) => r.stretchL2, (r) => r.stretchL2.toFixed(3)],
  ['fill', 'Fill', (r) => r.sheetArea, (r) => (r.sheetArea * 100).toFixed(1)],
];

/** Every island, and what can be done to those that are chosen. */
export function IslandSection({
  session,
  viewAxes,
}: {
  readonly session: Session;
  readonly viewAxes: () => Projection;
}) {
  const mesh = useProject((s) => s.mesh);
  const sheet = useActiveSheet();
  const size = sheet?.size;
  const pins = useProject((s) => s.document?.pins) ?? [];
  const weights = useProject((s) => s.document?.weights) ?? {};
  const chosen = useLayout((s) => s.chosen);
  const measured = useLayoutMeasures(mesh, sheet);
  const [sort, setSort] = useState<{ key: string; down: boolean }>({ key: 'fill', down: true });
  const rows = useMemo(() => {
    const column = COLUMNS.find(([key]) => key === sort.key);
    const list = [...(measured?.islands ?? [])];
    if (!mesh) return list;
    return list.sort((a, b) => {
      const order = column
        ? column[2](a) - column[2](b)
        : mesh.parts[a.part]!.localeCompare(mesh.parts[b.part]!);
      return sort.down ? -order : order;
    });
  }, [measured, sort, mesh]);
  if (!mesh || !sheet || !size) return null;
  const pack = (even: boolean): void =>
    void editLayout(session, 'Pack the islands', {
      do: 'pack',
      how: { margin: DEFAULT_MARGIN, even, turn: true, weights, pins },
      sizes: sheetSizes(),
      sheet: sheet.index,
    });
  const isPinned = (row: Row): boolean => row.faces.some((f) => pins.includes(f));
  return (
    <>
      <Arrange session={session} mesh={mesh} size={size} viewAxes={viewAxes} />
      <h2>
        Islands <span>{rows.length}</span>
      </h2>
      <div className="row">
        <button type="button" className="chip primary" onClick={() => pack(true)}>
          Pack evenly
        </button>
        <Chip title="Islands keep their size beside one another" onClick={() => pack(false)}>
          Pack as they are
        </Chip>
        {chosen.size === 0 && (
          <Chip
            title="Every mirrored twin onto the other: both sides show the same texels"
            onClick={() => void stackTwins(session, [])}
          >
            Stack twins
          </Chip>
        )}
      </div>
      <div className="island-table">
        <table>
          <thead>
            <tr>
              {(
                [
                  ['part', 'Part'],
                  ...COLUMNS.map(([key, title]) => [key, title] as const),
                ] as readonly (readonly [string, string])[]
              ).map(([key, title]) => (
                <th
                  key={key}
                  scope="col"
                  aria-sort={sort.key === key ? (sort.down ? 'descending' : 'ascending') : 'none'}
                >
                  <button
                    type="button"
                    onClick={() => setSort({ key, down: sort.key === key ? !sort.down : true })}
                  >
                    {title}
                    {sort.key === key ? (sort.down ? ' ↓' : ' ↑') : ''}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => {
              const first = row.faces[0]!;
              return (
                <tr key={first} className={chosen.has(first) ? 'on' : ''}>
                  <td>
                    <button
                      type="button"
                      aria-pressed={chosen.has(first)}
                      onClick={(e) => choose(row, e.shiftKey)}
                    >
                      {isPinned(row) ? '• ' : ''}
                      {mesh.parts[row.part]}
                    </button>
                  </td>
                  {COLUMNS.map(([key, , , show]) => (
                    <td key={key}>{show(row)}</td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </>
  );
}

function choose(row: Row, add: boolean): void {
  useLayout.setState(({ chosen }) => {
    const isOn = chosen.has(row.faces[0]!);
    if (!add) return { chosen: isOn && chosen.size === row.faces.length ? new Set() : new Set(row.faces) };
    const next = new Set(chosen);
    for (const f of row.faces) {
      if (isOn) next.delete(f);
      else next.add(f);
    }
    return { chosen: next };
  });
}

const PROJECTIONS: readonly (readonly [string, Projection])[] = [
  ['Front', { kind: 'plane', right: [1, 0, 0], up: [0, 1, 0] }],
  ['Side', { kind: 'plane', right: [0, 0, -1], up: [0, 1, 0] }],
  ['Top', { kind: 'plane', right: [1, 0, 0], up: [0, 0, -1] }],
  ['Box', { kind: 'box' }],
  ['Cylinder', { kind: 'cylinder', axis: 1 }],
  ['Ball', { kind: 'sphere', axis: 1 }],
];

/** Moves, turns, scales, aligns and reshapes the chosen islands. */
function Arrange({
  session,
  mesh,
  size,
  viewAxes,
}: {
  readonly session: Session;
  readonly mesh: UvMesh;
  readonly size: number;
  readonly viewAxes: () => Projection;
}) {
  const chosen = useLayout((s) => s.chosen);
  const pins = useProject((s) => s.document?.pins) ?? [];
  const [right, setRight] = useState('0');
  const [up, setUp] = useState('0');
  const [turn, setTurn] = useState('0');
  const [scale, setScale] = useState('100');
  if (chosen.size === 0) {
    return (
      <p className="hint-line">
        Click an island in either view, Shift-click for more. A chosen island is dragged on the sheet.
      </p>
    );
  }
  const faces = [...chosen];
  const number = (text: string, fallback: number): number => {
    const n = Number.parseFloat(text);
    return Number.isFinite(n) ? n : fallback;
  };
  const apply = (): void => {
    moveAboutMiddle(session, 'Move islands', {
      turn: (number(turn, 0) * Math.PI) / 180,
      scaleU: Math.max(0.01, number(scale, 100) / 100),
      scaleV: Math.max(0.01, number(scale, 100) / 100),
      moveU: number(right, 0) / size,
      moveV: number(up, 0) / size,
    });
    setRight('0');
    setUp('0');
    setTurn('0');
    setScale('100');
  };
  const whole = boxOnSheet(mesh, chosen);
  const { ofFace } = islandsFor(mesh);
  const boxes = (): Map<number, typeof whole> => {
    const lists = new Map<number, number[]>();
    for (const f of faces) {
      const list = lists.get(ofFace[f]!);
      if (list) list.push(f);
      else lists.set(ofFace[f]!, [f]);
    }
    return new Map([...lists].map(([island, list]) => [island, boxOnSheet(mesh, list)]));
  };
  /** Even gaps between the outermost two. */
  const spread = (
    label: string,
    low: 'left' | 'low',
    high: 'right' | 'high',
    by: (amount: number) => SheetMove,
  ): void => {
    const ordered = [...boxes()].sort(([, a], [, b]) => a[low] - b[low]);
    const widths = ordered.reduce((sum, [, b]) => sum + b[high] - b[low], 0);
    const gap = (whole[high] - whole[low] - widths) / Math.max(1, ordered.length - 1);
    const moves = new Map<number, SheetMove>();
    let at = whole[low];
    for (const [island, b] of ordered) {
      moves.set(island, by(at - b[low]));
      at += b[high] - b[low] + gap;
    }
    void moveEach(session, label, (f) => (chosen.has(f) ? moves.get(ofFace[f]!)! : null));
  };
  /** A move for each island, by its own box. */
  const each = (label: string, of: (box: typeof whole) => SheetMove): void => {
    const moves = new Map([...boxes()].map(([island, b]) => [island, of(b)]));
    void moveEach(session, label, (f) => (chosen.has(f) ? moves.get(ofFace[f]!)! : null));
  };
  const shift = (du: number, dv: number): SheetMove => sheetMove([0, 0], { moveU: du, moveV: dv });
  const isPinned = faces.some((f) => pins.includes(f));
  const pin = (): void => {
    const islands = new Set(faces.map((f) => ofFace[f]));
    const others = pins.filter((f) => !islands.has(ofFace[f]));
    const firsts = [...islands].map((island) => faces.find((f) => ofFace[f] === island)!);
    session.command({ do: 'set-layout', pins: isPinned ? others : [...others, ...firsts] });
  };
  return (
    <section aria-label="Chosen islands" className="arrange">
      <h2>
        Chosen <span>{countIslands(mesh, chosen)}</span>
      </h2>
      <form
        className="arrange-numbers"
        onSubmit={(e) => {
          e.preventDefault();
          apply();
        }}
      >
        {(
          [
            ['Right', right, setRight, 'texels'],
            ['Up', up, setUp, 'texels'],
            ['Turn', turn, setTurn, 'degrees'],
            ['Scale', scale, setScale, 'percent'],
          ] as const
        ).map(([label, value, set, unit]) => (
          <label key={label}>
            {label}
            <input
              value={value}
              inputMode="decimal"
              aria-label={`${label}, ${unit}`}
              title={unit}
              onChange={(e) => set(e.target.value)}
              onFocus={(e) => e.target.select()}
            />
          </label>
        ))}
        <button type="submit" className="chip">
          Move
        </button>
      </form>
      <div className="row">
        <Chip onClick={() => moveAboutMiddle(session, 'Turn islands', { turn: Math.PI / 2 })}>Turn 90°</Chip>
        <Chip onClick={() => moveAboutMiddle(session, 'Flip islands', { scaleU: -1 })}>Flip ↔</Chip>
        <Chip onClick={() => moveAboutMiddle(session, 'Flip islands', { scaleV: -1 })}>Flip ↕</Chip>
        <Chip
          title="Lower left corner onto a texel’s corner"
          onClick={() =>
            each('Snap to texels', (b) =>
              shift(Math.round(b.left * size) / size - b.left, Math.round(b.low * size) / size - b.low),
            )
          }
        >
          Snap
        </Chip>
      </div>
      <div className="row">
        <Chip onClick={() => each('Align left', (b) => shift(whole.left - b.left, 0))}>Left</Chip>
        <Chip onClick={() => each('Align right', (b) => shift(whole.right - b.right, 0))}>Right</Chip>
        <Chip onClick={() => each('Align at the top', (b) => shift(0, whole.high - b.high))}>Top</Chip>
        <Chip onClick={() => each('Align at the bottom', (b) => shift(0, whole.low - b.low))}>Bottom</Chip>
      </div>
      <div className="row">
        <Chip
          title="Even gaps from left to right"
          onClick={() => spread('Spread sideways', 'left', 'right', (by) => shift(by, 0))}
        >
          Spread ↔
        </Chip>
        <Chip
          title="Even gaps from bottom to top"
          onClick={() => spread('Spread upward', 'low', 'high', (by) => shift(0, by))}
        >
          Spread ↕
        </Chip>
        <Chip
          title="Mirrored twins onto one another: both sides show the same texels"
          onClick={() => void stackTwins(session, faces)}
        >
          Stack twins
        </Chip>
      </div>
      <div className="row">
        <Chip
          title="Rows of quads become an exact rectangle"
          onClick={() => void editLayout(session, 'Straighten', { do: 'straighten', faces })}
        >
          Straighten
        </Chip>
        <Chip on={isPinned} title="Packing goes round what is pinned" onClick={pin}>
          Pin
        </Chip>
        <Chip
          title="Choose every island of these parts"
          onClick={() => {
            const parts = new Set(faces.map((f) => mesh.faceParts[f]));
            const all = Array.from({ length: mesh.faceParts.length }, (_, f) => f);
            useLayout.setState({
              chosen: wholeIslands(
                mesh,
                all.filter((f) => parts.has(mesh.faceParts[f])),
              ),
            });
          }}
        >
          Whole part
        </Chip>
      </div>
      <div className="row">
        <Chip title="What is chosen becomes a part of its own" onClick={() => void splitChosen(session)}>
          Own part
        </Chip>
        <Chip
          title="Keep what is chosen as a region: it can mask layers"
          onClick={() => saveRegion(session, faces)}
        >
          Save as region
        </Chip>
      </div>
      <div className="row" role="group" aria-label="Project from">
        <Chip
          title="As it is seen now"
          onClick={() =>
            void editLayout(session, 'Project from the view', {
              do: 'project',
              faces,
              projection: viewAxes(),
            })
          }
        >
          View
        </Chip>
        {PROJECTIONS.map(([title, projection]) => (
          <Chip
            key={title}
            title={`Projected: ${title.toLowerCase()}`}
            onClick={() =>
              void editLayout(session, `Project: ${title.toLowerCase()}`, {
                do: 'project',
                faces,
                projection,
              })
            }
          >
            {title}
          </Chip>
        ))}
      </div>
    </section>
  );
}

const countIslands = (mesh: UvMesh, faces: ReadonlySet<number>): string => {
  const { ofFace } = islandsFor(mesh);
  const n = new Set([...faces].map((f) => ofFace[f])).size;
  return `${n} ${n === 1 ? 'island' : 'islands'}`;
};
