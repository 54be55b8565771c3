import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { documentFromRecipe, parseRecipe } from '../../core/document';
import { writeProjectFile } from '../../core/project-file';
import { readModel, writeUnlitGlb } from '../../core/formats';
import { requireUvs } from '../../core/mesh';
import { plate, together } from '../shapes';
import { downloaded, ready, stage, startEmpty } from './helpers';

test('the same recipe gives the same texels in the application and on the command line', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'zanahoria-recipe-'));
  const glb = await writeUnlitGlb(together(plate(0.4, 'Under'), plate(0.2, 'Side')), 'Plates', []);
  writeFileSync(join(folder, 'plates.glb'), glb);
  const built = spawnSync(
    './script/zanahoria',
    [
      'build',
      join(folder, 'plates.glb'),
      '--recipe',
      'demo/otter.recipe.json',
      '--size',
      '512',
      '--out',
      folder,
    ],
    { encoding: 'utf8' },
  );
  expect(built.stderr).toBe('');
  const wanted = PNG.sync.read(readFileSync(join(folder, 'albedo.png')));

  const recipe = parseRecipe(JSON.parse(readFileSync('demo/otter.recipe.json', 'utf8')));
  const project = writeProjectFile({
    document: documentFromRecipe(recipe, 512),
    mesh: requireUvs(await readModel('plates.glb', glb)),
    pixels: [],
    strokes: new Map(),
    files: new Map(),
  });
  await startEmpty(page);
  const chooser = page.waitForEvent('filechooser');
  await page.getByText('New from a model').click();
  await (
    await chooser
  ).setFiles({ name: 'plates.zip', mimeType: 'application/zip', buffer: Buffer.from(project) });
  await page.waitForURL(/\/paint$/);
  await ready(page);
  await stage(page, 'Deliver');
  const albedo = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  expect(Buffer.compare(PNG.sync.read(albedo.bytes).data, wanted.data)).toBe(0);
});
