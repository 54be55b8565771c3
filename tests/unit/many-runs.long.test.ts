import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { run } from '../../cli/run';
import { plainRecipe } from '../recipes';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-many-'));
const at = (...path: string[]): string => join(folder, ...path);

async function zanahoria(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const code = await run(args, {
    out: (text) => void (out += text),
    error: (text) => void (err += text),
  });
  return { code, out, err };
}

/** A plate with UVs, its sides so long. */
const plate = (side: number): string =>
  `o Plate\nv 0 0 0\nv ${side} 0 0\nv ${side} 0 -1\nv 0 0 -1\nvt 0.25 0.25\nvt 0.75 0.25\nvt 0.75 0.75\nvt 0.25 0.75\nvn 0 1 0\nf 1/1/1 2/2/1 3/3/1 4/4/1\n`;

describe('many models', () => {
  mkdirSync(at('models'));
  for (const side of [1, 2, 3, 4]) writeFileSync(at('models', `${side}.obj`), plate(side));
  writeFileSync(at('recipe.json'), plainRecipe('#b06030'));
  const build = (...more: string[]) =>
    zanahoria(
      'build',
      at('models'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '64',
      '--out',
      at('built'),
      '--json',
      // Starting a process takes longer than what it does here.
      '--jobs',
      '1',
      ...more,
    );
  const unchanged = (out: string): boolean[] =>
    (JSON.parse(out) as { unchanged?: true }[]).map((row) => row.unchanged === true);

  it('that are made from the same inputs are left alone; what differs is made anew', async () => {
    const first = await build();
    expect([first.code, ...unchanged(first.out)]).toEqual([0, false, false, false, false]);
    const written = statSync(at('built', '2', 'albedo.png')).mtimeMs;
    const again = await build();
    expect(again.err).toMatch(/4 of 4: .*, as it was/);
    expect([again.code, ...unchanged(again.out)]).toEqual([0, true, true, true, true]);
    expect(statSync(at('built', '2', 'albedo.png')).mtimeMs).toBe(written);
    // Another model, one whose result was thrown away, and one whose note was cut off.
    writeFileSync(at('models', '1.obj'), plate(1.5));
    rmSync(at('built', '3', 'report.json'));
    writeFileSync(at('built', '4', '.made-build.json'), '{"key":');
    expect(unchanged((await build()).out)).toEqual([false, true, false, false]);
    writeFileSync(at('recipe.json'), plainRecipe('#3060b0'));
    expect(unchanged((await build()).out)).toEqual([false, false, false, false]);
    expect(unchanged((await build('--anew')).out)).toEqual([false, false, false, false]);
  }, 180_000);

  it('go on where a run was killed', async () => {
    const out = at('killed');
    const args = [
      './script/zanahoria',
      'build',
      at('models'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '64',
      '--out',
      out,
      '--jobs',
      '1',
    ];
    const child = spawn(args[0]!, args.slice(1), { detached: true, stdio: ['ignore', 'ignore', 'pipe'] });
    await new Promise<void>((resolve) =>
      child.stderr.on('data', (text: Buffer) => String(text).includes('2 of 4') && resolve()),
    );
    process.kill(-child.pid!, 'SIGKILL');
    await new Promise((resolve) => child.on('exit', resolve));
    expect(existsSync(join(out, 'summary.json'))).toBe(false);
    const rest = await zanahoria(...args.slice(1), '--json');
    expect(unchanged(rest.out).slice(0, 2)).toEqual([true, true]);
    expect(rest.code).toBe(0);
    expect(PNG.sync.read(readFileSync(join(out, '4', 'albedo.png'))).width).toBe(64);
  }, 180_000);
});
