import { useMemo, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import { useProject } from '../project';
import { openMenu } from '../shared/context-menu';
import { useLayout } from '../shared/layout-store';
import { useRowsInSight } from '../shared/rows-in-sight';
import { ISLAND_ENTRIES } from './island-commands';
import type { MeasuredLayout } from './use-layout-measures';

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

/** Of a row, pixels. */
const ROW_HEIGHT = 24;

/** Every island with its figures: sorted by any of them, chosen by a click. */
export function IslandTable({ mesh, islands }: { readonly mesh: UvMesh; readonly islands: readonly Row[] }) {
  const pins = useProject((s) => s.document?.pins) ?? [];
  const chosen = useLayout((s) => s.chosen);
  const [sort, setSort] = useState<{ key: string; down: boolean }>({ key: 'fill', down: true });
  const rows = useMemo(() => {
    const column = COLUMNS.find(([key]) => key === sort.key);
    return islands.toSorted((a, b) => {
      const order = column
        ? column[2](a) - column[2](b)
        : mesh.parts[a.part]!.localeCompare(mesh.parts[b.part]!);
      return sort.down ? -order : order;
    });
  }, [islands, sort, mesh]);
  const numbers = useMemo(() => numbersOf(islands), [islands]);
  const nameOf = (row: Row): string => `${mesh.parts[row.part]}${numbers.get(row.faces[0]!) ?? ''}`;
  const isPinned = (row: Row): boolean => row.faces.some((f) => pins.includes(f));
  const firstChosen = rows.findIndex((r) => chosen.has(r.faces[0]!));
  const sight = useRowsInSight<HTMLDivElement>(rows.length, ROW_HEIGHT, firstChosen);
  const titles = [['part', 'Part'], ...COLUMNS.map(([key, title]) => [key, title])] as [string, string][];
  return (
    <div className="island-table" ref={sight.host}>
      <table aria-rowcount={rows.length + 1}>
        <thead>
          <tr>
            {titles.map(([key, title]) => (
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
          {sight.before > 0 && <tr aria-hidden style={{ height: sight.before }} />}
          {sight.rows.map((index) => {
            const row = rows[index]!;
            const first = row.faces[0]!;
            const isChosen = chosen.has(first);
            return (
              <tr
                key={first}
                aria-rowindex={index + 2}
                className={isChosen ? 'on' : ''}
                ref={!sight.isLong && index === firstChosen ? intoSight : undefined}
                onContextMenu={(e) => {
                  e.preventDefault();
                  if (!isChosen) choose(row, false);
                  openMenu({ x: e.clientX, y: e.clientY, title: nameOf(row), entries: ISLAND_ENTRIES });
                }}
              >
                <td>
                  <button type="button" aria-pressed={isChosen} onClick={(e) => choose(row, e.shiftKey)}>
                    {isPinned(row) ? '• ' : ''}
                    {nameOf(row)}
                  </button>
                </td>
                {COLUMNS.map(([key, , , show]) => (
                  <td key={key}>{show(row)}</td>
                ))}
              </tr>
            );
          })}
          {sight.after > 0 && <tr aria-hidden style={{ height: sight.after }} />}
        </tbody>
      </table>
    </div>
  );
}

/** The chosen island's row comes into sight. */
function intoSight(row: HTMLElement | null): void {
  row?.scrollIntoView({ block: 'nearest' });
}

/** Tells the islands of one part apart: by their first triangle, a number where a part has several. */
function numbersOf(islands: readonly Row[]): ReadonlyMap<number, string> {
  const byPart = new Map<number, Row[]>();
  for (const row of islands) byPart.set(row.part, [...(byPart.get(row.part) ?? []), row]);
  return new Map(
    [...byPart.values()].flatMap((rows) =>
      rows.map((row, i) => [row.faces[0]!, rows.length > 1 ? ` ${i + 1}` : ''] as const),
    ),
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
