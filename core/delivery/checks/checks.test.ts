import { converter, differenceCiede2000 } from 'culori';
import { describe, expect, it } from 'vitest';
import { floor } from '../../../tests/shapes';
import type { Picture } from '../../formats';
import type { UvMesh } from '../../mesh';
import { RampAssignments, type ProjectRamps } from '../../ramps';
import { bleed } from '../../surface';
import { checkDelivery, textureMemory, USUAL_CHECK, type CheckReport } from '.';
import { ownersOf } from './owners';

const SIZE = 256;

/** Two square plates, each an island, so many texels apart on the sheet. */
function plates(gap: number, names = ['Left', 'Right']): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  const side = (SIZE / 2 - 16 - gap / 2) / SIZE;
  [0.5 - gap / 2 / SIZE - side, 0.5 + gap / 2 / SIZE].forEach((left, k) => {
    const base = positions.length / 3;
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const) {
      positions.push(k * 1.5 + x, 0, -y);
      uvs.push(left + x * side, 0.25 + y * side);
    }
    indices.push(base, base + 1, base + 2, base, base + 2, base + 3);
  });
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(positions, (_, i) => (i % 3 === 1 ? 1 : 0)),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: Uint16Array.of(0, 0, 1, 1),
    parts: names,
  };
}

/** The sheet painted by part, bled so far. */
function painted(mesh: UvMesh, colors: readonly (readonly number[])[], reach: number): Picture {
  const { face } = ownersOf(mesh, SIZE);
  const rgba = new Uint8Array(SIZE * SIZE * 4);
  face.forEach((f, i) => f >= 0 && rgba.set([...colors[mesh.faceParts[f]!]!, 255], i * 4));
  bleed(
    rgba,
    Uint8Array.from(face, (f) => (f >= 0 ? 1 : 0)),
    SIZE,
    SIZE,
    reach,
  );
  return { width: SIZE, height: SIZE, rgba };
}

const ORANGE = [208, 96, 40];
const BLUE = [40, 70, 150];

const checked = (mesh: UvMesh, picture: Picture, how: Partial<typeof USUAL_CHECK> = {}): CheckReport =>
  checkDelivery(mesh, [{ picture }], { ...USUAL_CHECK, ...how });

const found = (report: CheckReport): string[] => report.findings.map((f) => f.check);

/**
 * How far the colour that a bilinear lookup reads at the inner border of the left plate is from its own, counted by hand with culori: the
 * texels of a level in one row, halved in linear light.
 */
function leakByHand(picture: Picture, border: number, mip: number): number {
  const light = converter('lrgb');
  const row = SIZE / 2;
  const side = 2 ** mip;
  const texel = (tx: number): number[] => {
    const sum = [0, 0, 0];
    for (let x = tx * side; x < (tx + 1) * side; x++) {
      const o = (row * SIZE + x) * 4;
      const c = light({
        mode: 'rgb',
        r: picture.rgba[o]! / 255,
        g: picture.rgba[o + 1]! / 255,
        b: picture.rgba[o + 2]! / 255,
      });
      [c.r, c.g, c.b].forEach((v, k) => (sum[k]! += v / side));
    }
    return sum;
  };
  const x = border / side - 0.5;
  const t = x - Math.floor(x);
  const [a, b] = [texel(Math.floor(x)), texel(Math.floor(x) + 1)];
  const mixed = a.map((v, k) => v * (1 - t) + b[k]! * t);
  return differenceCiede2000()(
    { mode: 'lrgb', r: mixed[0]!, g: mixed[1]!, b: mixed[2]! },
    { mode: 'rgb', r: ORANGE[0]! / 255, g: ORANGE[1]! / 255, b: ORANGE[2]! / 255 },
  );
}

describe('a sheet before it leaves', () => {
  it('is clean where islands are far enough apart and bled to', () => {
    const mesh = plates(64);
    const report = checked(mesh, painted(mesh, [ORANGE, BLUE], Infinity));
    expect(found(report)).toEqual([]);
    expect(report.ok).toBe(true);
    expect(report.sheets[0]).toMatchObject({ seams: [], unpainted: 0, bleed: null, gap: 64, lost: null });
  });

  it('of an opaque picture whose ground has another colour than its islands is not clean at any level', () => {
    const mesh = plates(64);
    const brown = [120, 80, 40];
    const picture = painted(mesh, [brown, brown], 1);
    for (let i = 0; i < picture.rgba.length; i += 4)
      if (picture.rgba[i + 3] === 0) picture.rgba.set([20, 40, 220, 255], i);
    const report = checked(mesh, picture);
    expect(report.ok).toBe(false);
    const mips = new Set(report.sheets[0]!.seams.map((s) => s.mip));
    // One texel of its own colour lies past the border: at the sheet itself nothing else is read.
    expect([...mips].sort()).toEqual([1, 2, 3, 4]);
    const bare = painted(mesh, [brown, brown], 0);
    for (let i = 0; i < bare.rgba.length; i += 4)
      if (bare.rgba[i + 3] === 0) bare.rgba.set([20, 40, 220, 255], i);
    expect(checked(mesh, bare).sheets[0]!.seams.some((s) => s.mip === 0)).toBe(true);
  });

  it('says nothing of the border of a splinter: too few of its texels tell what is its own', () => {
    const size = (texels: number): string[] => {
      const mesh = plates(64);
      for (let v = 4; v < 8; v++) {
        mesh.uvs[v * 2] = 0.75 + ((v === 5 || v === 6 ? 1 : 0) * texels) / SIZE;
        mesh.uvs[v * 2 + 1] = 0.5 + ((v > 5 ? 1 : 0) * texels) / SIZE;
      }
      const picture = painted(mesh, [ORANGE, BLUE], 0);
      for (let i = 0; i < picture.rgba.length; i += 4)
        if (picture.rgba[i + 3] === 0) picture.rgba.set([...ORANGE, 255], i);
      return checked(mesh, picture).sheets[0]!.seams.map(({ part }) => part);
    };
    expect(size(3)).toEqual([]);
    expect(new Set(size(12))).toEqual(new Set(['Right']));
  });

  it('shows a neighbour’s colour from the level on at which a lookup reaches it', () => {
    const mesh = plates(8);
    const picture = painted(mesh, [ORANGE, BLUE], Infinity);
    const { seams } = checked(mesh, picture).sheets[0]!;
    const border = SIZE / 2 - 4;
    const byHand = [0, 1, 2, 3, 4].map((mip) => leakByHand(picture, border, mip));
    const own = [0, 1, 2, 3, 4].map(
      (mip) => seams.find((s) => s.part === 'Left' && s.mip === mip)?.deltaE ?? 0,
    );
    // Four texels of its own colour lie past the border, which is the middle of a texel of level 3: nothing else is read there.
    expect(own.map((d) => d > 0)).toEqual([false, false, false, false, true]);
    byHand.forEach((d, mip) => expect(d > 2, `level ${mip}`).toBe(own[mip]! > 0));
    expect(own[4]).toBeCloseTo(byHand[4]!, 0);
    // The whole inner side of the plate, 1 long.
    expect(seams.find((s) => s.part === 'Left' && s.mip === 4)!.length).toBeCloseTo(1, 5);
  });

  it('that is bled too little is told, and what would mend it', () => {
    const mesh = plates(64);
    const report = checked(mesh, painted(mesh, [ORANGE, BLUE], 6));
    expect(report.sheets[0]!.bleed).toBe(6);
    expect(found(report)).toEqual(['seams', 'bleed']);
    expect(report.findings[0]!.says).toMatch(
      /borders of “\w+” and “\w+” from mip [34] on .* Let the bleed reach farther/,
    );
    expect(report.ok).toBe(false);
    expect(checked(mesh, painted(mesh, [ORANGE, BLUE], 6), { mips: 2 }).ok).toBe(true);
  });

  it('with islands that touch nearly says how near', () => {
    const mesh = plates(10);
    const report = checked(mesh, painted(mesh, [ORANGE, ORANGE], Infinity));
    expect(report.sheets[0]!.gap).toBe(10);
    expect(report.findings.find((f) => f.check === 'gap')!.says).toMatch(
      /10 texels apart; 4 mips ask for 48/,
    );
    // One colour on both: nothing is seen, so it may leave.
    expect(report.ok).toBe(true);
  });

  it('tells texels without colour, part by part', () => {
    const mesh = plates(64);
    const picture = painted(mesh, [ORANGE, BLUE], Infinity);
    const { face } = ownersOf(mesh, SIZE);
    let holes = 0;
    face.forEach((f, i) => {
      if (f < 2 || holes >= 40) return;
      picture.rgba.fill(0, i * 4, i * 4 + 4);
      holes++;
    });
    const report = checked(mesh, picture);
    expect(report.sheets[0]!.unpainted).toBe(40);
    expect(report.findings.find((f) => f.check === 'unpainted')!.says).toMatch(/40 texels .* “Right”/);
  });

  it('tells what is too dark, what merges at game size, and what is lost in the file', () => {
    const mesh = plates(64);
    const picture = painted(mesh, [ORANGE, [12, 12, 12]], Infinity);
    // L* 15 to 90: what a lit engine asks of an albedo (common practice).
    expect(found(checked(mesh, picture, { range: [15, 90] }))).toContain('range');
    const readBack = {
      ...picture,
      rgba: picture.rgba.map((v, i) => (i % 4 === 3 ? v : Math.max(0, v - 12))),
    };
    const report = checkDelivery(mesh, [{ picture, readBack }], USUAL_CHECK);
    expect(report.sheets[0]!.lost!.mean).toBeGreaterThan(2);
    expect(found(report)).toEqual(['compression']);
  });

  it('tells surface that lies beyond the ends of its ramp, or is read from beside it', () => {
    const mesh = floor();
    const ramps = (from: number, to: number): ProjectRamps => ({
      size: 64,
      lie: 'columns',
      shared: null,
      ramps: [
        { id: 10, name: 'Wood', colors: ['#3b2418', '#d9b37a'] },
        { id: 11, name: 'Iron', colors: ['#1c1c24', '#9aa2b0'] },
      ],
      seats: [
        {
          id: 20,
          of: { part: 'Floor' },
          ramp: 10,
          run: { kind: 'straight', direction: [1, 0, 0] },
          from,
          to,
          rings: [],
        },
      ],
    });
    const look = (project: ProjectRamps, change = (uvs: Float32Array): Float32Array => uvs) => {
      const seated = new RampAssignments(mesh).reckon(project, () => []);
      const on = { ramps: project, seated: { ...seated, uvs: change(seated.uvs) } };
      return checkDelivery(mesh, [{ picture: painted(mesh, [ORANGE], Infinity) }], USUAL_CHECK, {
        ramps: on,
      });
    };
    expect(found(look(ramps(0, 1)))).not.toContain('ramps');
    const beyond = look(ramps(2, 3));
    expect(beyond.beyondRamps).toBe(1);
    expect(beyond.findings.find((f) => f.check === 'ramps')).toMatchObject({
      weight: 'look',
      seat: 20,
      says: expect.stringContaining('100 % of “Floor” lies beyond the end of “Wood”') as string,
    });
    const beside = look(ramps(0, 1), (uvs) => uvs.map((v, i) => (i % 2 === 0 ? v + 0.5 : v)));
    expect(beside.findings.find((f) => f.check === 'ramps')!.weight).toBe('wrong');
    expect(beside.ok).toBe(false);
  });

  it('tells steps in a slope that 8 bit can’t hold, but neither noise nor a border', () => {
    const mesh = floor();
    const sheet = (value: (x: number, y: number) => number): Picture => ({
      width: SIZE,
      height: SIZE,
      rgba: Uint8Array.from({ length: SIZE * SIZE * 4 }, (_, i) =>
        i % 4 === 3 ? 255 : value((i >> 2) % SIZE, Math.floor((i >> 2) / SIZE)),
      ),
    });
    const slope = checked(
      mesh,
      sheet((x) => 60 + Math.floor(x / 24)),
    );
    expect(slope.sheets[0]!.banded).toBeGreaterThan(SIZE * SIZE * 0.5);
    expect(found(slope)).toContain('banding');
    expect(
      checked(
        mesh,
        sheet((x) => (x < SIZE / 2 ? 60 : 140)),
      ).sheets[0]!.banded,
    ).toBe(0);
    expect(
      checked(
        mesh,
        sheet((x, y) => 60 + ((x * 7 + y * 13) % 3)),
      ).sheets[0]!.banded,
    ).toBe(0);
  });

  it('tells parts that can’t be told apart when they are small', () => {
    const near = plates(64);
    // Side by side in the picture.
    const mesh = {
      ...near,
      positions: near.positions.map((x, i) =>
        i % 3 === 0 && x >= 1.5 ? x - 0.5 : i % 3 === 1 ? -near.positions[i + 1]! : i % 3 === 2 ? 0 : x,
      ),
    };
    const report = checked(mesh, painted(mesh, [ORANGE, [206, 97, 42]], Infinity));
    expect(report.merging[0]!.parts.toSorted()).toEqual(['Left', 'Right']);
    expect(report.merging[0]!.deltaE).toBeLessThan(1.5);
    expect(report.findings.filter((f) => f.check === 'merging')).toEqual([
      expect.objectContaining({
        says: expect.stringMatching(/can’t be told apart where they meet, 128 pixels high \(ΔE \d/) as string,
        // The darker of them becomes darker.
        move: { part: 'Right', lightness: expect.any(Number) as number },
      }),
    ]);
    const [left, right] = report.merging[0]!.parts[0] === 'Left' ? [0, 1] : [1, 0];
    const { lightness } = report.merging[0]!;
    expect(lightness[left]).toBeGreaterThan(lightness[right]!);
    // Near black there is no room below.
    const dark = checked(
      mesh,
      painted(
        mesh,
        [
          [20, 18, 22],
          [22, 20, 24],
        ],
        Infinity,
      ),
    );
    expect(dark.findings.find((f) => f.check === 'merging')!.move).toMatchObject({ part: 'Right' });
    expect(dark.findings.find((f) => f.check === 'merging')!.move!.lightness).toBeGreaterThan(0);
    expect(checked(mesh, painted(mesh, [ORANGE, BLUE], Infinity)).merging).toEqual([]);
  });

  it('tells uneven texels and islands on one another that look other ways', () => {
    const mesh = plates(64);
    const small = { ...mesh, uvs: mesh.uvs.map((x, i) => (i >= 8 ? 0.7 + (x - 0.7) * 0.1 : x)) };
    const report = checked(small, painted(small, [ORANGE, BLUE], Infinity));
    expect(report.density).toBeCloseTo(10, 0);
    expect(found(report)).toContain('density');
    const turned = mesh.positions.map((x, i) =>
      i < 12 ? x : i % 3 === 1 ? -mesh.positions[i + 1]! : i % 3 === 2 ? 0 : x,
    );
    const stacked = {
      ...mesh,
      positions: turned,
      uvs: Float32Array.from([...mesh.uvs.slice(0, 8), ...mesh.uvs.slice(0, 8)]),
    };
    expect(checked(stacked, painted(stacked, [ORANGE, ORANGE], Infinity)).stacked).toBe(2);
    const alike = { ...stacked, positions: mesh.positions };
    expect(checked(alike, painted(alike, [ORANGE, ORANGE], Infinity)).stacked).toBe(0);
  });

  it('knows what a texture takes in a graphics card', () => {
    // 2048 x 2048 with all levels: 4 bytes a texel, BC7 one (common practice: a third more for the halvings).
    expect(textureMemory(2048, 'png') / 2 ** 20).toBeCloseTo(21.3, 1);
    expect(textureMemory(2048, 'ktx2') / 2 ** 20).toBeCloseTo(5.3, 1);
  });
});
