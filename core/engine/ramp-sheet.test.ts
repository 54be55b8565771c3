import validator from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, LOCAL, modelOf } from '../../tests/engines';
import { plate } from '../../tests/shapes';
import { encodePng, writeUnlitGlb } from '../formats';
import { renamePart } from '../mesh';
import { rampPicture, RampAssignments, sheetOfRamps, splitSeated } from '../ramps';
import { compositeSheet } from './pictures/flatten';
import { readProjectFile, writeProjectFile } from '../project-file';
import type { Engine } from './engine';

const STRAIGHT = { kind: 'straight', direction: [0, 1, 0] } as const;
const RUN = {
  run: { ...STRAIGHT, direction: [...STRAIGHT.direction] as [number, number, number] },
  from: 0,
  to: 1,
  rings: [],
};
const COLORS = ['#3b2418', '#d9b37a'];

function withRamps(): { engine: Engine; ramps: number[] } {
  const engine = engineOn(plate(0.5, 'Under'), 128);
  const { ids } = engine.apply({
    do: 'set-ramps',
    ramps: [
      { id: null, name: 'Wood', colors: COLORS },
      { id: null, name: 'Iron', colors: ['#1c1c24', '#9aa2b0'] },
    ],
  });
  return { engine, ramps: [...ids] };
}

describe('the ramp sheet of a project', () => {
  it('is made, changed and taken off by commands that can be undone; paint stays as it is', () => {
    const { engine, ramps } = withRamps();
    const before = compositeSheet(engine);
    const [seat] = engine.apply({ do: 'seat', of: { part: 'Plate' }, ramp: ramps[0]!, ...RUN }).ids;
    engine.apply({ do: 'patch-seat', seat: seat!, patch: { from: 0.4, to: 0.1 } }, 'drag');
    engine.apply({ do: 'patch-seat', seat: seat!, patch: { from: 0.5 } }, 'drag');
    expect(engine.document.ramps!.seats).toMatchObject([{ id: seat, from: 0.5, to: 0.1 }]);
    engine.undo();
    expect(engine.document.ramps!.seats[0]!.from).toBe(0);
    expect(compositeSheet(engine)).toEqual(before);
    // A part has one seat: another ramp takes the place of the first.
    engine.apply({ do: 'seat', of: { part: 'Plate' }, ramp: ramps[1]!, ...RUN });
    expect(engine.document.ramps!.seats.map((s) => s.ramp)).toEqual([ramps[1]]);
    engine.apply({ do: 'remove-ramps' });
    expect(engine.document.ramps).toBeNull();
    engine.undo();
    expect(engine.document.ramps!.seats).toHaveLength(1);
  });

  it('a ramp that goes takes off what lies on it; one that is left keeps its number', () => {
    const { engine, ramps } = withRamps();
    engine.apply({ do: 'seat', of: { part: 'Plate' }, ramp: ramps[0]!, ...RUN });
    engine.apply({ do: 'seat', of: { part: 'Under' }, ramp: ramps[1]!, ...RUN });
    engine.apply({
      do: 'set-ramps',
      ramps: [
        { id: ramps[1]!, name: 'Iron', colors: COLORS },
        { id: null, name: 'Leaf', colors: COLORS },
      ],
    });
    expect(engine.document.ramps!.seats.map((s) => s.of)).toEqual([{ part: 'Under' }]);
    expect(engine.document.ramps!.ramps[0]!.id).toBe(ramps[1]);
  });

  it('faces are put on a ramp as a region; removing that takes them off', () => {
    const { engine, ramps } = withRamps();
    const region = { name: 'Rim', faces: [0, 1], cuts: [] };
    const [id, seat] = engine.apply({ do: 'seat-faces', region, ramp: ramps[0]!, ...RUN }).ids;
    expect(engine.document.ramps!.seats).toMatchObject([{ id: seat, of: { region: id } }]);
    engine.apply({ do: 'remove-region', region: id! });
    expect(engine.document.ramps!.seats).toEqual([]);
  });

  it('follows parts that are called otherwise', async () => {
    const { engine, ramps } = withRamps();
    engine.apply({ do: 'seat', of: { part: 'Plate' }, ramp: ramps[0]!, ...RUN });
    const dish = renamePart(engine.mesh, 0, 'Dish');
    await changeModel(engine, modelOf(dish), { renamed: [['Plate', 'Dish']] });
    expect(engine.document.ramps!.seats[0]!.of).toEqual({ part: 'Dish' });
  });

  it('what can’t be done is refused in a sentence, and changes nothing', () => {
    const { engine, ramps } = withRamps();
    const before = engine.document;
    const seat = { do: 'seat', of: { part: 'Plate' }, ...RUN } as const;
    for (const [act, words] of [
      [() => engine.apply({ ...seat, ramp: 999 }), /number 999/],
      [
        () => engine.apply({ do: 'seat', of: { region: 77 }, ramp: ramps[0]!, ...RUN }),
        /region that isn’t there/,
      ],
      [() => engine.apply({ do: 'patch-seat', seat: 999, patch: { from: 0 } }), /no ramp any more/],
      [
        () => engine.apply({ do: 'set-ramps', ramps: [{ id: ramps[0]!, name: 'One', colors: COLORS }] }),
        /2 ramps or more/,
      ],
      [() => engine.apply({ do: 'set-ramps', size: 48 as never }), /can't be done/],
    ] as const) {
      expect(act).toThrow(words);
      expect(engine.document).toBe(before);
    }
    const bare = engineOn(plate(0.5, 'Under'), 128);
    expect(() => bare.apply({ ...seat, ramp: 1 })).toThrow(/no ramp sheet yet/);
  });

  it('is kept in the project file', () => {
    const { engine, ramps } = withRamps();
    engine.apply({ do: 'seat', of: { part: 'Plate' }, ramp: ramps[0]!, ...RUN });
    const { document, mesh } = engine;
    const back = readProjectFile(writeProjectFile({ document, mesh, ...engine.everything() }));
    expect(back.document.ramps).toEqual(document.ramps);
    expect(engine.layer(LOCAL).kind).toBe('local');
  });

  // Khronos glTF validator, as an independent reader.
  it('leaves in a valid GLB: what lies on it has a material of its own with the sheet’s texels', async () => {
    const { engine, ramps } = withRamps();
    engine.apply({ do: 'seat', of: { part: 'Plate' }, ramp: ramps[1]!, ...RUN });
    const { mesh, document } = engine;
    const seated = new RampAssignments(mesh).reckon(document.ramps!, () => []);
    const { own, onRamps } = splitSeated(mesh, seated);
    const sheet = rampPicture(sheetOfRamps(document.ramps!), 64);
    const albedo = encodePng({ width: 128, height: 128, rgba: compositeSheet(engine) });
    const glb = await writeUnlitGlb(own, 'Plate', [albedo], {
      ramps: { mesh: onRamps, png: encodePng(sheet) },
    });
    const { issues, info } = await validator.validateBytes(glb);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    expect(info.totalTriangleCount).toBe(mesh.indices.length / 3);
    const length = new DataView(glb.buffer, glb.byteOffset).getUint32(12, true);
    const json = JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as {
      meshes: { name: string; primitives: { material: number }[] }[];
      materials: { name: string }[];
    };
    const materialOf = (name: string): string =>
      json.materials[json.meshes.find((m) => m.name === name)!.primitives[0]!.material]!.name;
    expect([materialOf('Plate'), materialOf('Under')]).toEqual(['Plate ramps', 'Plate']);
  });
});
