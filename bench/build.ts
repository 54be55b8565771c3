import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeUnlitGlb } from '../core/formats';
import type { Row } from './clock';
import { bumpyBall } from './models';

const MODELS = 12;
const WANTED = 1.7;

/** Twelve models by one recipe at 1024: two processes beside one. */
export async function benchBuild(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'zanahoria-bench-'));
  for (let i = 0; i < MODELS; i++) {
    writeFileSync(join(folder, `${i}.glb`), await writeUnlitGlb(bumpyBall(40 + i, 20), `Ball ${i}`, []));
  }
  const seconds = (jobs: number): number => {
    const start = performance.now();
    const { status } = spawnSync(
      './script/zanahoria',
      [
        'build',
        folder,
        '--recipe',
        'demo/otter.recipe.json',
        '--size',
        '1024',
        '--out',
        join(folder, `out ${jobs}`),
        '--jobs',
        String(jobs),
      ],
      { stdio: 'ignore' },
    );
    if (status !== 0) throw new Error(`build ended with ${status}`);
    return (performance.now() - start) / 1000;
  };
  const [one, two] = [seconds(1), seconds(2)];
  return [
    {
      what: `${MODELS} models, times as fast on two cores (wanted ${WANTED})`,
      ours: `${two.toFixed(1)} s`,
      peer: `${one.toFixed(1)} s`,
      ratio: one / two / WANTED,
    },
  ];
}
