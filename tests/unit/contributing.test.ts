import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ownCueSurface } from '../../core/cues';
import { checkMesh } from '../../core/mesh';
import { measureSurface, PlaceReader, TILE_TEXELS } from '../../core/surface';
import { handbookPages } from '../../script/handbook';
import { STAGES } from '../../app/shared/ui-store';
import { bandsKind } from '../examples/bands-layer';
import { nameTool } from '../examples/name-tool';
import { readOff } from '../examples/off-format';
import { sideKind } from '../examples/side-cue';
import { ball, floor } from '../shapes';

describe('the worked examples of CONTRIBUTING.md', () => {
  const text = readFileSync('CONTRIBUTING.md', 'utf8');
  for (const name of ['bands-layer', 'side-cue', 'grey-tool', 'hide-all', 'name-tool', 'off-format']) {
    it(`${name} stands there as it is compiled and run here`, () => {
      expect(text).toContain(`\`\`\`ts\n${readFileSync(`tests/examples/${name}.ts`, 'utf8')}\`\`\``);
    });
  }

  it('a layer of bands paints every second one', () => {
    const surface = measureSurface(ball(), 128);
    const places = new PlaceReader(surface);
    const layer = bandsKind.schema.parse({
      kind: 'bands',
      id: 1,
      name: 'Bands',
      color: '#ff0000',
      height: 0.25,
    });
    const paint = bandsKind.painter(layer, { places } as never);
    let [on, off] = [0, 0];
    for (let tile = 0; tile < surface.slotOfTile.length; tile++) {
      const source = paint(tile);
      const at = places.tile(tile);
      if (!source || !at || source.form !== 'rgba8') continue;
      for (let i = 0; i < TILE_TEXELS; i++) {
        const isOn = source.bytes[i * 4 + 3] === 255;
        expect(isOn).toBe(((Math.floor(at.py[i]! / 0.25) % 2) + 2) % 2 === 0);
        if (isOn) on++;
        else off++;
      }
    }
    expect(on > 500 && off > 500).toBe(true);
    expect(bandsKind.inputs(layer, { surface: 'a' } as never)).not.toBe(
      bandsKind.inputs({ ...layer, height: 1 }, { surface: 'a' } as never),
    );
  });

  it('a cue tells the distance from the middle', () => {
    const surface = measureSurface(floor(2), 64);
    const values = sideKind.measure(ownCueSurface(surface), { cue: 'side', reach: 1 });
    const places = new PlaceReader(surface);
    const at = places.tile(0)!;
    const base = surface.slotOfTile[0]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i += 97) {
      if (surface.codes[base + i]! < 0) continue;
      expect(values[base + i]! / 65535).toBeCloseTo(Math.min(1, Math.abs(at.px[i]!)), 2);
    }
  });

  it('a tool acts on the model, and leaves the ground beside it to the view', () => {
    const told: (string | null)[] = [];
    const tool = nameTool(
      () => floor(),
      (name) => told.push(name),
    )({} as never);
    expect(tool.press!({} as never, null)).toBeNull();
    const gesture = tool.press!({} as never, { face: 0 } as never);
    expect(told).toEqual(['Floor']);
    if (gesture && gesture !== 'done') gesture.end({} as never);
    expect(told).toEqual(['Floor', null]);
  });

  it('a format reads what it is given and says what is wrong with it', () => {
    const cube = 'OFF\n4 2 0\n0 0 0\n1 0 0 # right\n1 1 0\n0 1 0\n4 0 1 2 3\n3 0 1 2\n';
    const mesh = checkMesh(readOff(cube, 'square'));
    expect([mesh.indices.length / 3, mesh.parts]).toEqual([3, ['square']]);
    const code = (bad: string) => {
      try {
        readOff(bad, 'x');
      } catch (error) {
        return (error as { code?: string }).code;
      }
      return null;
    };
    expect(code('PLY\n')).toBe('file-not-a-model');
    expect(code('OFF\n4 2 0\n0 0 0\n')).toBe('file-truncated');
    expect(code('OFF\n1000000000 1 0\n')).toBe('file-truncated');
    expect(code('OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n4000000000 0\n')).toBe('file-truncated');
  });
});

describe('the handbook', () => {
  const pages = handbookPages();

  it('has a page for every stage, in the order of work, and none twice', () => {
    const names = pages.map((p) => p.name);
    expect(names[0]).toBe('README');
    expect(names.slice(1, STAGES.length + 1)).toEqual([...STAGES]);
    expect(new Set(names).size).toBe(names.length);
  });

  it('leads to pages that are there', () => {
    for (const { name, html } of pages)
      for (const [, link] of html.matchAll(/href="([^"]+)"/g)) {
        const page = /^([\w-]+)\.md$/.exec(link!)?.[1];
        const isThere = page !== undefined && pages.some((p) => p.name === page);
        expect(isThere || readable(`docs/handbook/${link!}`), `${name}: ${link}`).toBe(true);
      }
  });
});

function readable(file: string): boolean {
  try {
    readFileSync(file);
    return true;
  } catch {
    return false;
  }
}
