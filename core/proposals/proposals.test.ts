import { describe, expect, it } from 'vitest';
import { ball, plate, together } from '../../tests/shapes';
import { createPlainKernels } from '../kernels';
import {
  NO_MATCH,
  pictureRamps,
  prepareMatch,
  reportOn,
  seeModel,
  seenColors,
  type MatchCamera,
} from '../match';
import { codesOfTile, filledTiles, measureSurface, placeOfTexel, TILE_TEXELS } from '../surface';
import { newDocument } from '../document';
import { Engine } from '../engine';
import { compositeSheet, projectionLayer, projectionStroke } from '../engine';
import { encodePng } from '../formats';
import {
  commandOf,
  isFlatBeside,
  layerFromRamps,
  proposalFor,
  proposalWords,
  refinedBy,
  towardLight,
} from './proposals';
import { measureCue } from '../cues';
import { rampPicture, RampAssignments, sheetOfRamps } from '../ramps';

const SIZE = 128;
const mesh = together(plate(0.2, 'Under'), ball(32, 16, 0.4, [0.2, 0.6, 0.1]));
const CAMERA: MatchCamera = {
  position: [1, 2, 6],
  target: [0, 0.3, 0],
  up: [0, 1, 0],
  fovY: 28,
  shift: [0, 0],
  width: 160,
  height: 160,
};

/** A model with local colours, and a picture of it in others. */
function begun() {
  const engine = new Engine({
    surface: measureSurface(mesh, SIZE),
    kernels: createPlainKernels(),
    document: newDocument('Plate', SIZE),
    pixels: [],
    strokes: new Map(),
    files: new Map(),
  });
  const colors: [string, string][] = [
    ['Ball', '#805040'],
    ['Plate', '#607080'],
    ['Under', '#607080'],
  ];
  engine.apply({
    do: 'add-layer',
    layer: { kind: 'local', name: 'Local', colors, fallback: '#888888' },
    at: 9,
  });
  return engine;
}

const albedo = (engine: Engine) => {
  for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
  return { width: SIZE, height: SIZE, rgba: compositeSheet(engine) };
};

/** A picture whose ball is lit from the right and whose plate is another grey. */
const prepared = (() => {
  const seen = seeModel(mesh, CAMERA);
  const rgba = seenColors(mesh, seen, [
    { width: SIZE, height: SIZE, rgba: new Uint8Array(SIZE * SIZE * 4).fill(90) },
  ]);
  const mask = Uint8Array.from(seen.faces, (f) => (f >= 0 ? 1 : 0));
  seen.faces.forEach((f, i) => {
    if (f < 0) return;
    const isBall = mesh.parts[mesh.faceParts[f]!] === 'Ball';
    const lit = mesh.normals[mesh.indices[f * 3]! * 3]!;
    const v = isBall ? [170 + 60 * lit, 110 + 50 * lit, 70 + 20 * lit] : [120, 130, 110];
    rgba.set([...v.map(Math.round), 255], i * 4);
  });
  return prepareMatch({ mesh, camera: CAMERA, picture: { width: 160, height: 160, rgba }, mask });
})();

const apartOf = (engine: Engine, part: string): number =>
  reportOn(prepared, [albedo(engine)]).report.parts.find((a) => a.part === part)!.apart;

describe('what lies on the ramp sheet', () => {
  const onRamps = (engine: Engine) => {
    const ramps = engine.document.ramps!;
    const seated = new RampAssignments(mesh).reckon(ramps, () => []);
    return reportOn(prepared, [albedo(engine)], {
      ...seated,
      sheet: rampPicture(sheetOfRamps(ramps), ramps.size),
    }).report;
  };

  it('is compared by its colours there, and its ramp is what is proposed to be moved', () => {
    const engine = begun();
    const colors = [
      ['#304050', '#8090a0'],
      ['#101010', '#f0f0f0'],
    ];
    engine.apply({
      do: 'set-ramps',
      ramps: colors.map((own, i) => ({ id: null, name: `Ramp ${i + 1}`, colors: own })),
    });
    const [first] = engine.document.ramps!.ramps;
    engine.apply({
      do: 'seat',
      of: { part: 'Ball' },
      ramp: first!.id,
      run: { kind: 'straight', direction: [1, 0, 0] },
      from: 0,
      to: 1,
      rings: [],
    });
    const report = onRamps(engine);
    const ball = report.parts.find((a) => a.part === 'Ball')!;
    // The local colour of its own sheet is brown; the ramp is blue.
    expect(ball.model.b).toBeGreaterThan(ball.model.r);
    const advice = report.advice.find((a) => a.area === 'Ball' && a.apply)!;
    const proposal = proposalFor(engine.document, report, advice)!;
    expect(proposal).toMatchObject({ by: 'sheet', ramp: first!.id, name: 'Ball' });
    expect(proposalWords(proposal)).toContain('ramp sheet');
    engine.apply(commandOf(engine.document, proposal));
    const after = onRamps(engine);
    expect(after.parts.find((a) => a.part === 'Ball')!.apart).toBeLessThan(ball.apart / 3);
    expect(engine.document.ramps!.ramps[1]!.colors).toEqual(colors[1]);
    expect(refinedBy(proposal, after)).toMatchObject({ by: 'sheet' });
  });
});

describe('a proposal', () => {
  it('for a part that is off as a whole is another local colour, which brings it near', () => {
    const engine = begun();
    const { report } = reportOn(prepared, [albedo(engine)]);
    const advice = report.advice.find((a) => a.area === 'Plate')!;
    expect(advice.apply).toBe('color');
    const proposal = proposalFor(engine.document, report, advice)!;
    expect(proposal).toMatchObject({ by: 'local', of: { part: 'Plate' } });
    expect(proposalWords(proposal)).toMatch(/Plate: local colour #[0-9a-f]{6}/);
    engine.apply(commandOf(engine.document, proposal));
    expect(apartOf(engine, 'Plate')).toBeLessThan(1.5);
    engine.undo();
    expect(apartOf(engine, 'Plate')).toBeGreaterThan(5);
  });

  it('for a part of one tone is the tones that its reference has, by the light, and then their ramp is moved', () => {
    const engine = begun();
    const { report } = reportOn(prepared, [albedo(engine)]);
    const area = report.parts.find((a) => a.part === 'Ball')!;
    expect(isFlatBeside(area)).toBe(true);
    const toward = towardLight(engine.document, report);
    expect(toward[0]).toBeGreaterThan(0.7);
    const advice = { ...report.advice.find((a) => a.area === 'Ball' && a.apply)!, apply: 'tones' as const };
    const proposal = proposalFor(engine.document, report, advice, {
      ramps: pictureRamps(prepared, toward, null),
      toward,
    })!;
    expect(proposal).toMatchObject({ by: 'tones', name: 'Ball' });
    expect(proposalWords(proposal)).toContain('the reference’s tones');
    engine.apply(commandOf(engine.document, proposal));
    const after = reportOn(prepared, [albedo(engine)]).report;
    expect(after.parts.find((a) => a.part === 'Ball')!.apart).toBeLessThan(3);
    expect(after.parts.find((a) => a.part === 'Plate')!.apart).toBeCloseTo(
      report.parts.find((a) => a.part === 'Plate')!.apart,
      0,
    );
    expect(refinedBy(proposal, after)).toBeNull();
    expect(proposalFor(engine.document, after, advice)).toMatchObject({ by: 'ramp' });
  });

  it('for tones that are off each in its own way moves them in a layer over the part, and the next time in the same', () => {
    const engine = begun();
    // Some form below, so that there are tones to move.
    engine.apply({
      do: 'add-layer',
      layer: {
        kind: 'wash',
        name: 'Form',
        color: '#302028',
        opacity: 0.6,
        mask: [
          {
            from: 'cue',
            join: 'multiply',
            levels: { low: 0, high: 1, gamma: 1 },
            invert: true,
            cue: { cue: 'facing', direction: [1, 0, 0] },
          },
        ],
      },
      at: 9,
    });
    const { report } = reportOn(prepared, [albedo(engine)]);
    const before = report.parts.find((a) => a.part === 'Ball')!.apart;
    const ask = { ...report.advice[0]!, area: 'Ball', of: 'part' as const, apply: 'tones' as const };
    const proposal = proposalFor(engine.document, report, ask)!;
    expect(proposal.by).toBe('balance');
    engine.apply(commandOf(engine.document, proposal));
    const after = reportOn(prepared, [albedo(engine)]).report;
    expect(after.parts.find((a) => a.part === 'Ball')!.apart).toBeLessThan(before / 2);
    const again = proposalFor(engine.document, after, ask)!;
    expect(again).toMatchObject({ by: 'balance', layer: engine.document.layers.at(-1)!.id });
    expect(refinedBy(proposal, after)).toMatchObject({ by: 'balance' });
    const count = engine.document.layers.length;
    engine.apply(commandOf(engine.document, again));
    expect(engine.document.layers.length).toBe(count);
  });

  it('of light takes key, sky and ground over; of what can’t be changed there is none', () => {
    const engine = begun();
    const { report } = reportOn(prepared, [albedo(engine)]);
    const [some] = report.advice;
    const light = {
      direction: [0, 0, 1] as const,
      certainty: 1,
      key: { color: '#ffeecc', strength: 0.7 },
      sky: { color: '#8899ff', strength: 0.3 },
      ground: { color: '#443322', strength: 0.2 },
    };
    const lit = { ...report, lightAll: { ...report.lightAll, reference: light } };
    const proposal = proposalFor(engine.document, lit, { ...some!, apply: 'light' })!;
    engine.apply(commandOf(engine.document, proposal));
    expect(engine.document.lights[0]!.plan).toMatchObject({
      key: { direction: [0, 0, 1], color: '#ffeecc', strength: 0.7 },
      sky: { strength: 0.3 },
      ground: { color: '#443322' },
    });
    expect(proposalFor(engine.document, report, { ...some!, apply: null })).toBeNull();
    expect(proposalFor(engine.document, report, { ...some!, area: 'Nobody' })).toBeNull();
  });
});

describe('from reference to paint', () => {
  it('ramps make a layer that is near on what is seen, and covers what isn’t', () => {
    const engine = begun();
    const ramp = (color: string) => ({
      stops: [
        { at: 0, color },
        { at: 1, color },
      ],
      mixing: 'oklab' as const,
      hardness: 0,
    });
    engine.apply({
      do: 'add-layer',
      layer: layerFromRamps(
        [
          { part: 'Ball', ramp: ramp('#aa6644') },
          { part: 'Plate', ramp: ramp('#78826e') },
          { part: 'Under', ramp: ramp('#78826e') },
        ],
        [1, 0, 0],
        'Tones',
      ),
      at: 9,
    });
    const { rgba } = albedo(engine);
    expect(new Set(Array.from({ length: SIZE * SIZE }, (_, i) => rgba[i * 4 + 3]! && rgba[i * 4]!))).toEqual(
      new Set([0, 0xaa, 0x78]),
    );
    expect(apartOf(engine, 'Plate')).toBeLessThan(1.5);
  });

  it('the picture lies on what it sees, and the rest is filled along the surface from that, within each part', () => {
    const engine = begun();
    const png = encodePng(prepared.picture);
    const reference = engine.attach(
      { do: 'add-reference', reference: { name: 'P', width: 160, height: 160 } },
      png,
    ).ids[0]!;
    engine.apply({ do: 'patch-reference', reference, patch: { match: { ...NO_MATCH, camera: CAMERA } } });
    const picture = engine.attach(
      { do: 'add-pattern', pattern: { name: 'P', width: 160, height: 160, listed: false } },
      png,
    ).ids[0]!;
    const { mask: _fades, ...plain } = projectionLayer(mesh, CAMERA, 'Projected');
    const layer = engine.apply({ do: 'add-layer', layer: plain as typeof plain & { kind: 'paint' }, at: 9 })
      .ids[0]!;
    engine.apply(projectionStroke(layer, { id: picture, width: 160, height: 160 }, CAMERA, false));
    const seenOnly = reportOn(prepared, [albedo(engine)]).report;
    expect(seenOnly.deltaE.p50).toBeLessThan(1);
    const guessed = engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'Guessed' }, at: 9 })
      .ids[0]!;
    engine.apply({ do: 'fill-along', layer: guessed, from: layer });
    for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
    engine.apply({ do: 'patch-layer', layer, patch: { visible: false } });
    const { rgba } = albedo(engine);
    // The ball's back, which the picture never sees, has the ball's colours; the underside, of which nothing is seen, keeps its own.
    const colors = new Map<string, Set<number>>();
    for (const tile of filledTiles(engine.surface)) {
      codesOfTile(engine.surface, tile)!.forEach((code, i) => {
        if (code < 0 || (code & 3) !== 3) return;
        const { x, y } = placeOfTexel(engine.surface.sheets, tile * TILE_TEXELS + i);
        const part = mesh.parts[mesh.faceParts[code >> 2]!]!;
        const known = colors.get(part) ?? new Set<number>();
        known.add(rgba[(y * SIZE + x) * 4]!);
        colors.set(part, known);
      });
    }
    expect(Math.min(...colors.get('Ball')!)).toBeGreaterThan(100);
    expect([...colors.get('Under')!]).toEqual([0x60]);
    expect(apartOf(engine, 'Plate')).toBeLessThan(3);
    engine.undo();
    engine.undo();
    expect(() => engine.apply({ do: 'fill-along', layer, from: guessed })).toThrow(
      /Nothing is painted there/,
    );
  });
});
