import { useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import {
  alignMoves,
  snapMoves,
  spreadMoves,
  type IslandMoves,
  type Projection,
  type SheetBox,
} from '../../core/unwrap';
import { Chip } from '../shared/Chip';
import { useRoom, type Room } from '../viewport';
import { islandsFor, useLayout, wholeIslands } from '../shared/layout-store';
import { type Session, saveRegion, useProject } from '../project';
import {
  boxOnSheet,
  editLayout,
  moveAboutMiddle,
  moveEach,
  pinChosen,
  splitChosen,
  stackTwins,
} from './layout-actions';

const PROJECTIONS: readonly (readonly [string, Projection])[] = [
  ['Front', { kind: 'plane', right: [1, 0, 0], up: [0, 1, 0] }],
  ['Side', { kind: 'plane', right: [0, 0, -1], up: [0, 1, 0] }],
  ['Top', { kind: 'plane', right: [1, 0, 0], up: [0, 0, -1] }],
  ['Box', { kind: 'box' }],
  ['Cylinder', { kind: 'cylinder' }],
  ['Ball', { kind: 'sphere' }],
];

/** Onto the screen of the present view. */
function fromView(room: Room): Projection {
  const [right, up] = room.view?.axes() ?? [
    [1, 0, 0],
    [0, 1, 0],
  ];
  return { kind: 'plane', right, up };
}

/** Moves, turns, scales, aligns and reshapes the chosen islands. */
export function ArrangeSection({
  session,
  mesh,
  size,
}: {
  readonly session: Session;
  readonly mesh: UvMesh;
  readonly size: number;
}) {
  const room = useRoom();
  const chosen = useLayout((s) => s.chosen);
  const pins = useProject((s) => s.document?.pins) ?? [];
  const [right, setRight] = useState('0');
  const [up, setUp] = useState('0');
  const [turn, setTurn] = useState('0');
  const [scale, setScale] = useState('100');
  if (chosen.size === 0) {
    return (
      <p className="hint-line">
        Click an island in either view, Shift-click for more. A chosen island is dragged on the sheet, with
        Shift by whole texels; its frame turns and scales it.
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
  const { ofFace } = islandsFor(mesh);
  const boxes = (): Map<number, SheetBox> => {
    const lists = new Map<number, number[]>();
    for (const f of faces) {
      const list = lists.get(ofFace[f]!);
      if (list) list.push(f);
      else lists.set(ofFace[f]!, [f]);
    }
    return new Map([...lists].map(([island, list]) => [island, boxOnSheet(mesh, list)]));
  };
  const each = (label: string, moves: IslandMoves): void =>
    void moveEach(session, label, (f) => (chosen.has(f) ? moves.get(ofFace[f]!)! : null));
  const isPinned = faces.some((f) => pins.includes(f));
  return (
    <section aria-label="Chosen islands" className="arrange">
      <h2>
        Chosen islands <span>{countIslands(mesh, chosen)}</span>
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
          onClick={() => each('Snap to texels', snapMoves(boxes(), size))}
        >
          Snap
        </Chip>
      </div>
      <h3>Align</h3>
      <div className="row" role="group" aria-label="Align">
        <Chip onClick={() => each('Align left', alignMoves(boxes(), 'left'))}>Left edge</Chip>
        <Chip onClick={() => each('Align right', alignMoves(boxes(), 'right'))}>Right edge</Chip>
        <Chip onClick={() => each('Align at the top', alignMoves(boxes(), 'high'))}>Upper edge</Chip>
        <Chip onClick={() => each('Align at the bottom', alignMoves(boxes(), 'low'))}>Lower edge</Chip>
      </div>
      <div className="row">
        <Chip
          title="Even gaps from left to right"
          onClick={() => each('Spread sideways', spreadMoves(boxes(), 'across'))}
        >
          Spread ↔
        </Chip>
        <Chip
          title="Even gaps from bottom to top"
          onClick={() => each('Spread upward', spreadMoves(boxes(), 'upward'))}
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
        <Chip on={isPinned} title="Packing goes round what is pinned" onClick={() => pinChosen(session)}>
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
          Make a part
        </Chip>
        <Chip
          title="Keep what is chosen as a region: it can mask layers"
          onClick={() => saveRegion(session, faces)}
        >
          Save as region
        </Chip>
      </div>
      <h3>Project from</h3>
      <div className="row" role="group" aria-label="Project from">
        <Chip
          title="As it is seen now"
          onClick={() =>
            void editLayout(session, 'Project from the view', {
              do: 'project',
              faces,
              projection: fromView(room),
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
