import { Fragment, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { islandsFor, useLayout } from '../shared/layout-store';
import { PROJECTIONS } from './island-commands';
import { moveAboutMiddle } from './layout-actions';

type Offer = readonly [command: string, label: string, says: string];

/** What is offered for the chosen islands: commands, each with a short label here. */
const OFFERS: readonly (readonly [heading: string | null, readonly Offer[]])[] = [
  [
    null,
    [
      ['islands-turn', 'Turn 90°', 'A quarter turn'],
      ['islands-flip-across', 'Flip ↔', 'Left and right changed'],
      ['islands-flip-upward', 'Flip ↕', 'Top and bottom changed'],
      ['islands-snap', 'Snap', 'Lower left corner onto a texel’s corner'],
    ],
  ],
  [
    'Align',
    [
      ['islands-align-left', 'Left edge', 'All at the left edge of the outermost'],
      ['islands-align-right', 'Right edge', 'All at the right edge of the outermost'],
      ['islands-align-upper', 'Upper edge', 'All at the upper edge of the outermost'],
      ['islands-align-lower', 'Lower edge', 'All at the lower edge of the outermost'],
      ['islands-spread-across', 'Spread ↔', 'Even gaps from left to right'],
      ['islands-spread-upward', 'Spread ↕', 'Even gaps from bottom to top'],
    ],
  ],
  [
    'Shape and keep',
    [
      ['islands-straighten', 'Straighten', 'Rows of quads become an exact rectangle'],
      [
        'islands-borders',
        'Crisp borders',
        'Borders along rows and columns onto whole texels, so that lines there are crisp',
      ],
      ['islands-slant', 'Hand slant', 'Each island is tilted a little, as if cut by hand'],
      ['islands-twins', 'Stack twins', 'Mirrored twins onto one another: both sides show the same texels'],
      ['islands-pin', 'Pin', 'Packing goes round what is pinned'],
      ['islands-whole-part', 'Whole part', 'Choose every island of these parts'],
      ['islands-part', 'Make a part', 'What is chosen becomes a part of its own'],
      ['islands-region', 'Save as region', 'Keep what is chosen as a region: it can mask layers'],
    ],
  ],
  [
    'Project from',
    [
      ['islands-project-view', 'View', 'As it is seen now'],
      ...Object.keys(PROJECTIONS).map((name): Offer => [
        `islands-project-${name}`,
        name[0]!.toUpperCase() + name.slice(1),
        `Projected: ${name}`,
      ]),
    ],
  ],
];

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
  const { run } = useCommandBook();
  const tip = useTip();
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
        <Chip type="submit">Move</Chip>
      </form>
      {OFFERS.map(([heading, offers]) => (
        <Fragment key={heading}>
          {heading && <h3>{heading}</h3>}
          <div className="row" role="group" aria-label={heading ?? 'Turn and flip'}>
            {offers.map(([id, label, says]) => (
              <Chip
                key={id}
                {...(id === 'islands-pin' ? { on: isPinned } : {})}
                title={tip(says, id)}
                onClick={() => run(id)}
              >
                {label}
              </Chip>
            ))}
          </div>
        </Fragment>
      ))}
    </section>
  );
}

const countIslands = (mesh: UvMesh, faces: ReadonlySet<number>): string => {
  const { ofFace } = islandsFor(mesh);
  const n = new Set([...faces].map((f) => ofFace[f])).size;
  return `${n} ${n === 1 ? 'island' : 'islands'}`;
};
