import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import type { Row } from './clock';

const run = promisify(execFile);

/** Two processes, as two workers would be in the browser. */
export async function benchOcclusion(): Promise<Row[]> {
  const shares = await Promise.all(
    ['0', '1'].map(async (share) => {
      const { stdout } = await run('node_modules/.bin/tsx', ['bench/occlusion-share.ts', share]);
      return JSON.parse(stdout) as { coarse: number; fine: number; texels: number };
    }),
  );
  const coarse = Math.max(...shares.map((s) => s.coarse)) / 1000;
  const fine = Math.max(...shares.map((s) => s.fine)) / 1000;
  const texels = (shares[0]!.texels / 1e6).toFixed(2);
  return [
    {
      what: `occlusion, ${texels}M texels, 64 rays, two cores, limit 20 s`,
      ours: `${fine.toFixed(1)} s`,
      peer: '20 s',
      ratio: 20 / fine,
    },
    { what: 'its coarse look, limit 1 s', ours: `${coarse.toFixed(2)} s`, peer: '1 s', ratio: 1 / coarse },
  ];
}
