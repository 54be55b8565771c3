import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, LOCAL, modelOf } from '../../tests/engines';
import { plate } from '../../tests/shapes';
import { HARD, line, PLAIN_STROKE } from '../../tests/strokes';
import { planesOf, nodesOf, parseDocument, type LayerNode } from '../document';
import { isBase, PLAIN_LEVELS } from '../layers';
import { CoreError } from '../errors';
import { createWasmKernels } from '../kernels';
import { cornersOf, placeMesh, placingOf, withBackdrops, type UvMesh } from '../mesh';
import { measureSurface } from '../surface';
import { compositeSheet } from './pictures/flatten';
import { Engine } from './engine';
import { readProjectFile, writeProjectFile } from '../project-file';
import type { Command } from '../commands';

/** One thing that somebody does: what, and numbers that choose among what there is. */
type Deed = readonly [what: (typeof DEEDS)[number], a: number, b: number];

const COLORS = ['#c83c14', '#2060a0', '#f0e0c0', '#101418'];
const PAINTED = { from: 'painted', levels: PLAIN_LEVELS, invert: false } as const;
const FORM: UvMesh = plate(0.2, 'Under');
const pick = <T>(list: readonly T[], n: number): T => list[n % list.length]!;

const strokeOf = (a: number, b: number) => ({
  ...PLAIN_STROKE,
  color: pick(COLORS, b),
  opacity: b % 3 === 0 ? 0.5 : 1,
  erase: b % 5 === 4,
  brush: HARD,
  nearSide: a % 2 === 0,
  runs: [line([-0.8, 0, ((a % 17) - 8) / 10], [0.8, 0, ((b % 17) - 8) / 10], 0.1 + (a % 5) / 20, 4)],
});

/** What does not ask for another model. */
const COMMANDS = {
  paint: (n, a, b) => ({
    do: 'stroke',
    layer: n.id,
    guard: a % 4 === 0 ? { part: pick(['Plate', 'Under'], b) } : null,
    keepAlpha: b % 7 === 0,
    stroke: strokeOf(a, b),
  }),
  'paint mask': (n, a, b) => ({ do: 'stroke', layer: n.id, channel: 'mask', stroke: strokeOf(a, b) }),
  fill: (n, _, b) => ({ do: 'fill', layer: n.id, color: pick(COLORS, b), except: b % 3 ? [] : ['Under'] }),
  flood: (n, a, b) => ({
    do: 'flood',
    layer: n.id,
    color: pick(COLORS, b),
    texel: 520 + a,
    tolerance: b % 40,
  }),
  clear: (n) => ({ do: 'clear', layer: n.id }),
  recolour: (n, _, b) => ({
    do: 'edit-strokes',
    layer: n.id,
    strokes: [b % 3],
    change: { color: pick(COLORS, b) },
  }),
  'remove stroke': (n, _, b) => ({ do: 'edit-strokes', layer: n.id, strokes: [b % 3], change: 'remove' }),
  'add layer': (_, a) => ({ do: 'add-layer', layer: { kind: 'paint', name: 'Paint' }, at: a % 4 }),
  'copy layer': (n, a) => ({
    do: 'add-layer',
    layer: { kind: 'paint', name: 'Copy' },
    at: a % 4,
    copyPixelsOf: n.id,
  }),
  'add group': (_, a) => ({ do: 'add-group', name: 'Group', at: a % 4 }),
  group: (n, a, b) => ({ do: 'group-layers', layers: a % 2 ? [n.id] : [n.id, b % 6], name: 'Together' }),
  ungroup: (n) => ({ do: 'ungroup', layer: n.id }),
  remove: (n) => ({ do: 'remove-layers', layers: [n.id] }),
  duplicate: (n) => ({ do: 'duplicate-layers', layers: [n.id] }),
  move: (n, a, b) => ({ do: 'move-layers', layers: [n.id], into: a % 3 ? null : b % 8, at: b % 4 }),
  'merge down': (n) => ({ do: 'merge-down', layer: n.id }),
  'merge visible': () => ({ do: 'merge-visible', name: 'All' }),
  flatten: () => ({ do: 'flatten', name: 'Flat' }),
  hide: (n, a) => ({ do: 'patch-layer', layer: n.id, patch: { visible: a % 2 === 0 } }),
  clip: (n, a) => ({ do: 'patch-layer', layer: n.id, patch: { clip: a % 2 === 0 } }),
  opacity: (n, a) => ({ do: 'patch-layer', layer: n.id, patch: { opacity: (a % 11) / 10 } }),
  mask: (n, a) => ({ do: 'patch-layer', layer: n.id, patch: { mask: a % 3 ? [PAINTED] : [] } }),
  region: (_, a, b) => ({
    do: 'color-faces',
    layer: LOCAL,
    region: { name: 'Some', faces: [a % 3, 1 + (b % 2)], cuts: [] },
    color: pick(COLORS, b),
  }),
  'remove region': (_, a) => ({ do: 'remove-region', region: a % 12 }),
  ramps: (_, a, b) => ({
    do: 'set-ramps',
    ramps: [a, b].map((n) => ({ id: null, name: `Ramp ${n}`, colors: [pick(COLORS, n), '#ffffff'] })),
  }),
} satisfies Record<string, (node: LayerNode, a: number, b: number) => Command>;

type Fits = (node: LayerNode) => boolean;
const isPaint: Fits = (node) => node.kind === 'paint';
const isMasked: Fits = (node) => node.mask.some((step) => step.from === 'painted');

/** Where not every node will do: which will. */
const FITS: Partial<Record<keyof typeof COMMANDS, Fits>> = {
  ...Object.fromEntries(
    (
      ['paint', 'fill', 'flood', 'recolour', 'remove stroke', 'clear', 'copy layer', 'merge down'] as const
    ).map((what) => [what, isPaint]),
  ),
  'paint mask': isMasked,
  ungroup: (node) => node.kind === 'group',
};

const MODELS = ['turn', 'size', 'backdrop'] as const;
const DEEDS = [...(Object.keys(COMMANDS) as (keyof typeof COMMANDS)[]), ...MODELS, 'undo', 'redo'] as const;

/** Puts another model in the place of the engine's, as the application does. */
async function anotherModel(engine: Engine, what: (typeof MODELS)[number], b: number): Promise<void> {
  const { mesh, document } = engine;
  const { sheets } = document;
  if (what === 'turn') {
    const turned = { up: '+z', front: '+x' } as const;
    await changeModel(engine, modelOf(placeMesh(mesh, turned), sheets), { placing: placingOf(turned) });
  } else if (what === 'size') {
    const [first, ...rest] = sheets;
    const sized = [{ ...first!, size: b % 2 ? (64 as const) : (128 as const) }, ...rest];
    if (sized[0]!.size === first!.size) return;
    await changeModel(engine, modelOf(mesh, sized), { patch: { sheets: sized } });
  } else if (sheets.length === 1) {
    const corners = cornersOf({
      centre: [0, 0, -2],
      right: [1, 0, 0],
      up: [0, 1, 0],
      width: 3,
      height: 3,
    });
    const more = [...sheets, { name: 'Sky', size: 64 as const }];
    const behind = withBackdrops(mesh, [{ name: 'Sky', sheet: 1, corners }]);
    await changeModel(engine, modelOf(behind, more), { patch: { sheets: more } });
  }
}

/** Does what there is to do. @returns whether it was done; what is refused leaves all as it was */
async function act(engine: Engine, [what, a, b]: Deed): Promise<void> {
  const { document } = engine;
  const nodes = [...nodesOf(document.layers)].map(({ node }) => node);
  try {
    if (what === 'undo') engine.undo();
    else if (what === 'redo') engine.redo();
    else if (what === 'turn' || what === 'size' || what === 'backdrop') await anotherModel(engine, what, b);
    else {
      const fit = nodes.filter(FITS[what] ?? (() => true));
      if (fit.length > 0) engine.apply(COMMANDS[what](pick(fit, a), a, b));
    }
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    expect(engine.document).toBe(document);
  }
}

const picture = (engine: Engine): string[] =>
  engine.surface.sheets.map((_, sheet) => bytesToHex(sha256(compositeSheet(engine, sheet))));

const seen = (engine: Engine) => ({ document: engine.document, picture: picture(engine) });

/** The same project from its file. */
function reopened(engine: Engine): Engine {
  const { document, mesh } = engine;
  const data = readProjectFile(writeProjectFile({ document, mesh, ...engine.everything() }));
  return new Engine({
    ...data,
    surface: measureSurface(
      data.mesh,
      data.document.sheets.map((s) => s.size),
    ),
    kernels: createWasmKernels(),
  });
}

/** Makes every stroke of every layer again. */
function replay(engine: Engine): void {
  for (const { node } of nodesOf(engine.document.layers)) {
    for (const channel of [isPaint(node) && ('pixels' as const), isMasked(node) && ('mask' as const)]) {
      if (!channel) continue;
      const strokes = engine.editableStrokes(node.id, channel).map((s) => s.number);
      if (strokes.length > 0)
        engine.apply({ do: 'edit-strokes', layer: node.id, channel, strokes, change: {} });
    }
  }
}

// Painting more often than anything else.
const deed = fc.tuple(
  fc.constantFrom(
    ...DEEDS,
    ...Array.from({ length: 8 }, () => 'paint' as const),
    'mask' as const,
    'paint mask' as const,
  ),
  fc.nat(200),
  fc.nat(200),
);

describe('whatever is done', () => {
  it('can be opened again, undone and done again, and its strokes give the same texels', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(deed, { minLength: 6, maxLength: 20 }), async (deeds) => {
        const engine = engineOn(FORM, 64);
        const start = seen(engine);
        for (const one of deeds) await act(engine, one);
        const end = seen(engine);
        expect(parseDocument(JSON.parse(JSON.stringify(end.document)))).toEqual(end.document);
        expect(seen(reopened(engine))).toEqual(end);
        // Nothing is left of layers and masks that went, but what undo needs beneath their strokes.
        const planes = new Set(planesOf(end.document));
        const left = engine.everything().pixels.filter(({ plane }) => !isBase(plane) && !planes.has(plane));
        expect(left).toEqual([]);
        const { done } = engine.history;
        while (engine.undo());
        expect(seen(engine)).toEqual(start);
        while (engine.history.done < done) engine.redo();
        replay(engine);
        expect(picture(engine)).toEqual(end.picture);
      }),
      { numRuns: 60, seed: 34 },
    );
  });
});
