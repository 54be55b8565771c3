import { expect, it } from 'vitest';
import { changeModel, engineOn, modelOf } from '../../tests/engines';
import { stage, stageWithTags } from '../../tests/rigged';
import { importModel } from '../formats';
import { requireUvs } from '../mesh';

it('the file that a model came in goes and comes back with the model, by undo and redo', async () => {
  const [first, second] = await Promise.all(
    [await stage(), await stageWithTags()].map((bytes) => importModel('stage.glb', bytes)),
  );
  const engine = engineOn(requireUvs(first!.mesh), 64);
  expect(engine.document.modelFile).toBeNull();
  const shorter = { ...second!.mesh, positions: second!.mesh.positions.map((x) => x * 0.9) };
  const file = { name: 'newer', bytes: second!.file!, placing: null };
  await changeModel(engine, modelOf(requireUvs(shorter), 64), { file });
  const { modelFile, nextId } = engine.document;
  expect(modelFile).toMatchObject({ name: 'newer', placing: null });
  expect(modelFile!.id).toBeLessThan(nextId);
  expect(engine.file(modelFile!.id)).toEqual(second!.file);
  engine.undo();
  expect(engine.document.modelFile).toBeNull();
  engine.redo();
  expect(engine.document.modelFile).toEqual(modelFile);
  // A model that came in another format has none: the older file isn't its own.
  const { origins: _, ...bare } = shorter;
  await changeModel(engine, modelOf(requireUvs({ ...bare, positions: first!.mesh.positions }), 64), {
    file: null,
  });
  expect(engine.document.modelFile).toBeNull();
});
