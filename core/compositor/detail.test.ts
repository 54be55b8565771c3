import validator from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, PAINT } from '../../tests/engines';
import { floor } from '../../tests/shapes';
import { encodePng, writeUnlitGlb } from '../formats';
import { TILE_BYTES } from '../surface';
import { compositeDetail, compositeSheet, type Engine } from '../engine';
import { detailReport, inChannels, USUAL_CHANNELS } from './detail-channels';
import type { Detail } from '../document';

/** An engine with a mask of the detail sheet that is all of one grey. */
function withMask(detail: Detail, color: string | null): { engine: Engine; group: number; layer: number } {
  const engine = engineOn(floor(), 128);
  const group = engine.apply({ do: 'add-group', name: 'Mask', detail, at: 2 }).ids[0]!;
  const layer = engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'On it' }, into: group, at: 0 })
    .ids[0]!;
  if (color) engine.apply({ do: 'fill', layer, color });
  return { engine, group, layer };
}
const middle = (rows: Uint8Array, side = 128): number[] => [
  ...rows.subarray((64 * side + 64) * 4, (64 * side + 64) * 4 + 4),
];
const shown = (engine: Engine): number[] => {
  const out = new Uint8Array(TILE_BYTES);
  engine.renderTile(0, out);
  return [...out.subarray(TILE_BYTES / 2 + 128, TILE_BYTES / 2 + 132)];
};

describe('the detail sheet', () => {
  it('has what its groups hold in a channel each, neutral where nothing is painted; the albedo has nothing of it', () => {
    const { engine } = withMask('dark', '#404040');
    const plain = engineOn(floor(), 128);
    expect(compositeSheet(engine)).toEqual(compositeSheet(plain));
    expect(middle(compositeDetail(engine))).toEqual([0x40, 255, 0, 255]);
    expect(middle(compositeDetail(withMask('line', '#808080').engine))).toEqual([128, 128, 0, 255]);
    expect(middle(compositeDetail(withMask('shine', null).engine))).toEqual([128, 255, 0, 255]);
  });

  it('is made by every kind of layer, through masks and opacity, and changes with them', () => {
    const { engine, group, layer } = withMask('shine', '#ffffff');
    engine.apply({ do: 'patch-layer', layer, patch: { opacity: 0.5 } });
    expect(middle(compositeDetail(engine))[2]).toBe(128);
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'wash', name: 'W', color: '#000000' },
      into: group,
      at: 1,
    });
    expect(middle(compositeDetail(engine))[2]).toBe(0);
    engine.undo();
    expect(middle(compositeDetail(engine))[2]).toBe(128);
  });

  it('is seen as grey when one of its masks is looked at, and told tile by tile to who looks at all of it', () => {
    const { engine, layer } = withMask('dark', '#404040');
    for (const tile of engine.dirty()) engine.renderTile(tile, new Uint8Array(TILE_BYTES));
    engine.setView({ alone: null, maskOf: null, detail: 'dark' });
    expect(shown(engine)).toEqual([0x40, 0x40, 0x40, 255]);
    engine.apply({ do: 'fill', layer, color: '#c0c0c0' });
    expect(engine.dirty().length).toBeGreaterThan(0);
    expect(shown(engine)).toEqual([0xc0, 0xc0, 0xc0, 255]);
    engine.lookAtDetail(true);
    const out = new Uint8Array(TILE_BYTES);
    for (const tile of engine.detail!.dirty()) engine.detail!.render(tile, out);
    expect(engine.detail!.dirty()).toEqual([]);
    engine.apply({ do: 'fill', layer, color: '#202020' });
    expect(engine.detail!.dirty().length).toBeGreaterThan(0);
    engine.detail!.render(0, out);
    expect([...out.subarray(TILE_BYTES / 2, TILE_BYTES / 2 + 4)]).toEqual([0x20, 255, 0, 255]);
    engine.lookAtDetail(false);
    expect(engine.detail).toBeNull();
  });

  it('a change to it leaves the albedo’s tiles as they are', () => {
    const { engine, group } = withMask('dark', '#404040');
    for (const tile of engine.dirty()) engine.renderTile(tile, new Uint8Array(TILE_BYTES));
    engine.apply({ do: 'patch-layer', layer: group, patch: { opacity: 0.3 } });
    expect(engine.dirty()).toEqual([]);
  });

  it('stands by itself: not in a group, not merged, not taken apart; flattening and merging leave it', () => {
    const { engine, group, layer } = withMask('line', '#808080');
    const outer = engine.apply({ do: 'add-group', name: 'Outer', at: 3 }).ids[0]!;
    expect(() => engine.apply({ do: 'move-layers', layers: [group], into: outer, at: 0 })).toThrow(
      /must stand in the build-up itself/,
    );
    expect(() => engine.apply({ do: 'ungroup', layer: group })).toThrow(/goes into the detail sheet/);
    expect(() => engine.apply({ do: 'merge-down', layer: group })).toThrow(/can’t be merged into the albedo/);
    const before = compositeDetail(engine);
    engine.apply({ do: 'flatten', name: 'All' });
    expect(engine.document.layers.map((n) => n.name)).toEqual(['All', 'Mask']);
    expect(compositeDetail(engine)).toEqual(before);
    expect(engine.layer(layer).name).toBe('On it');
  });

  it('local colours that go into it aren’t those of the model', () => {
    const { engine, group } = withMask('dark', null);
    engine.apply({ do: 'move-layers', layers: [LOCAL], into: group, at: 0 });
    expect(engine.localColors()).toBeNull();
    expect(engine.layer(PAINT).kind).toBe('paint');
  });

  it('comes with a recipe, beside the group of its other layers', () => {
    const engine = engineOn(floor(), 128);
    const wash = { kind: 'wash', name: 'W', color: '#303030' } as const;
    const source = engineOn(floor(), 128);
    const into = source.apply({ do: 'add-group', name: 'First', detail: 'dark', at: 2 }).ids[0]!;
    source.apply({ do: 'add-layer', layer: wash, into, at: 0 });
    const { lights, layers } = source.document;
    const recipe = { name: 'Cel', lights, patterns: [], layers: layers.filter((n) => n.kind !== 'paint') };
    engine.apply({ do: 'lay-recipe', recipe, at: 2 });
    expect(engine.document.layers.map((n) => [n.name, n.kind === 'group' && n.detail])).toEqual([
      ['Local colour', false],
      ['Paint', false],
      ['Cel', null],
      ['First', 'dark'],
    ]);
    expect(middle(compositeDetail(engine))[0]).toBe(0x30);
  });
});

describe('the detail sheet as it is delivered', () => {
  const rgba = Uint8Array.of(10, 20, 30, 255, 1, 2, 3, 0);

  it('has its masks in the channels that are wanted', () => {
    const picture = { width: 2, height: 1, rgba };
    expect([...inChannels(picture, USUAL_CHANNELS).rgba]).toEqual([10, 20, 30, 255, 0, 0, 0, 0]);
    const turned = inChannels(picture, { r: 'line', g: null, b: 'dark', a: 'shine' });
    expect([...turned.rgba]).toEqual([20, 0, 10, 30, 0, 0, 0, 0]);
    expect(detailReport({ r: 'line', g: null, b: 'dark', a: 'shine' }).channels).toEqual({
      r: 'line',
      g: 'none',
      b: 'dark',
      a: 'shine',
    });
  });

  // Khronos glTF validator, as an independent reader.
  it('stands in a valid GLB as a second texture, named in the material’s extras', async () => {
    const png = encodePng({ width: 1, height: 1, rgba: Uint8Array.of(1, 2, 3, 255) });
    const says = detailReport(USUAL_CHANNELS);
    const glb = await writeUnlitGlb(floor(), 'Floor', [png], { detail: { pngs: [png], says } });
    const { issues } = await validator.validateBytes(glb);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const length = new DataView(glb.buffer, glb.byteOffset).getUint32(12, true);
    const json = JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as {
      materials: {
        occlusionTexture: { index: number; strength: number };
        extras: { detailTexture: { slot: string; channels: object } };
      }[];
      textures: { source: number }[];
      images: { name: string }[];
    };
    const { occlusionTexture, extras } = json.materials[0]!;
    expect(json.images[json.textures[occlusionTexture.index]!.source]!.name).toBe('Floor detail');
    expect(occlusionTexture.strength).toBe(0);
    expect(extras.detailTexture.slot).toBe('occlusionTexture');
    expect(extras.detailTexture.channels).toEqual({ r: 'dark', g: 'line', b: 'shine', a: 'none' });
  });
});
