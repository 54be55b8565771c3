import { faceGeometry, type UvMesh } from '../../mesh';
import { isInsideRamp, rampBands, type ProjectRamps, type Assigned } from '../../ramps';
import type { CheckFinding } from './report';

/** What lies on a ramp sheet. */
export interface RampsToCheck {
  readonly ramps: ProjectRamps;
  readonly seated: Assigned;
}

/** Part of a seat's surface that may have the outermost colour of its ramp. */
const BEYOND = 0.25;

/** An end of a ramp is this near, in parts of it. */
const AT_END = 1e-4;

/**
 * Looks for surface whose tone isn't on its ramp: read from beside it, or beyond either end, where all of it has one flat colour.
 *
 * @returns the part of the surface on ramps that lies beyond, 0..1, and what is to be told
 */
export function checkRamps(
  mesh: UvMesh,
  { ramps, seated }: RampsToCheck,
): { readonly beyond: number; readonly findings: CheckFinding[] } {
  const { size, lie, seats } = ramps;
  const { areas } = faceGeometry(mesh);
  const bands = rampBands(ramps.ramps.length, size);
  const sums = seats.map(() => ({ area: 0, beyond: 0, beside: 0, face: -1 }));
  seated.seatOf.forEach((seat, f) => {
    const sum = sums[seat];
    const band = seat < 0 ? undefined : bands[ramps.ramps.findIndex((r) => r.id === seats[seat]!.ramp)];
    if (!sum || !band) return;
    const corners = [0, 1, 2].map(
      (c) => [seated.uvs[f * 6 + c * 2]!, seated.uvs[f * 6 + c * 2 + 1]!] as const,
    );
    const area = areas[f]!;
    sum.area += area;
    if (corners.some((uv) => !isInsideRamp(band, uv, size, lie))) {
      sum.beside += area;
      sum.face = f;
    }
    const along = corners.map(([u, v]) => ((lie === 'columns' ? v : u) * size - 0.5) / (size - 1));
    if (!along.every((a) => a < AT_END) && !along.every((a) => a > 1 - AT_END)) return;
    sum.beyond += area;
    if (sum.face < 0) sum.face = f;
  });
  const findings = sums.flatMap((sum, i): CheckFinding[] => {
    const seat = seats[i]!;
    const name = mesh.parts[mesh.faceParts[Math.max(0, sum.face)]!]!;
    const ramp = ramps.ramps.find((r) => r.id === seat.ramp)?.name ?? 'its ramp';
    const told = { check: 'ramps', sheet: 0, face: sum.face, seat: seat.id } as const;
    if (sum.beside > 0) {
      const says = `Tones of “${name}” are read from beside “${ramp}”. Set it on its ramp anew at Block in.`;
      return [{ ...told, weight: 'wrong', says }];
    }
    if (sum.area === 0 || sum.beyond / sum.area <= BEYOND) return [];
    const percent = Math.round((sum.beyond / sum.area) * 100);
    return [
      {
        ...told,
        weight: 'look',
        says: `${percent} % of “${name}” lies beyond the end of “${ramp}” and has one flat colour. Fit its run to the ramp.`,
      },
    ];
  });
  const area = sums.reduce((sum, s) => sum + s.area, 0);
  const beyond = sums.reduce((sum, s) => sum + s.beyond, 0);
  return { beyond: area > 0 ? beyond / area : 0, findings };
}
