import { expect, test } from '@playwright/test';
import { createServer } from 'vite';
import { createWasmKernels } from '../../core/kernels';
import { seededRandom, type Vec3 } from '../../core/math';
import { encodePng, writeUnlitGlb } from '../../core/formats';
import { BLEND_MODES, type BlendMode, type CompositeStep } from '../../core/composite';
import { TILE_BYTES } from '../../core/surface';
import { inked, lineThrough } from '../ink';
import { floor } from '../shapes';

// Chromium's own 2D canvas implements W3C Compositing and Blending Level 1: it is the oracle for source-over and all 16 modes.
test.describe('blend modes beside the 2D canvas', () => {
  const random = seededRandom(99);
  const colors = (alphas: readonly number[]): number[][] =>
    Array.from({ length: 400 }, (_, i) => [
      ...[0, 1, 2].map((k) =>
        i < 27 ? [0, 128, 255][Math.floor(i / 3 ** k) % 3]! : Math.floor(random() * 256),
      ),
      alphas[Math.floor(random() * alphas.length)]!,
    ]);
  const backs = colors([255]);
  const fronts = colors([255, 255, 200, 128]);
  const seeThroughBacks = colors([128, 200, 255]);

  for (const mode of BLEND_MODES) {
    test(mode, async ({ page }) => {
      await page.goto('about:blank');
      for (const [ground, limit] of [
        [backs, 2],
        // Premultiplied bytes at half alpha hold a colour only to about 2 steps, on either layer.
        [seeThroughBacks, 5],
      ] as const) {
        const theirs = await page.evaluate(
          ({ ground, fronts, mode }) => {
            const canvas = new OffscreenCanvas(ground.length, 1);
            const context = canvas.getContext('2d', { willReadFrequently: true })!;
            ground.forEach((b, x) => {
              context.globalCompositeOperation = 'source-over';
              context.clearRect(x, 0, 1, 1);
              context.fillStyle = `rgb(${b[0]} ${b[1]} ${b[2]} / ${b[3]! / 255})`;
              context.fillRect(x, 0, 1, 1);
              const f = fronts[x]!;
              context.globalCompositeOperation = (
                mode === 'normal' ? 'source-over' : mode
              ) as GlobalCompositeOperation;
              context.fillStyle = `rgb(${f[0]} ${f[1]} ${f[2]} / ${f[3]! / 255})`;
              context.fillRect(x, 0, 1, 1);
            });
            return [...context.getImageData(0, 0, ground.length, 1).data];
          },
          { ground, fronts, mode },
        );
        const laid = (bytes: Uint8Array, blend: BlendMode): CompositeStep => ({
          do: 'lay',
          source: { form: 'rgba8', bytes },
          mode: blend,
          opacity: 1,
          mask: null,
          clip: false,
        });
        const tile = (list: readonly number[][]): Uint8Array => {
          const out = new Uint8Array(TILE_BYTES);
          list.forEach((c, i) => out.set(c, i * 4));
          return out;
        };
        const ours = new Uint8Array(TILE_BYTES);
        createWasmKernels().composite([laid(tile(ground), 'normal'), laid(tile(fronts), mode)], ours);
        let worst = 0;
        for (let i = 0; i < ground.length * 4; i++) {
          // Burning and dodging have a cliff where a channel of the source or ground is 0 or 1; 8-bit rounding of a
          // see-through backdrop may put the canvas on its other side.
          if (limit > 2 && (mode === 'color-burn' || mode === 'color-dodge')) {
            const k = i % 4;
            const [f, b] = [fronts[i >> 2]![k]!, ground[i >> 2]![k]!];
            if (k < 3 && (f < 24 || f > 231 || b < 4 || b > 251)) continue;
          }
          // The hue of a ground that is nearly grey is lost in its premultiplied bytes; saturation would blow up what is left.
          const ground3 = ground[i >> 2]!.slice(0, 3);
          if (limit > 2 && mode === 'saturation' && Math.max(...ground3) - Math.min(...ground3) < 40)
            continue;
          worst = Math.max(worst, Math.abs(ours[i]! - theirs[i]!));
        }
        expect(worst).toBeLessThanOrEqual(limit);
      }
    });
  }
});

test('the delivered GLB, loaded afresh in three, is unlit and shows the texture’s own colours', async ({
  page,
}) => {
  const size = 64;
  const random = seededRandom(5);
  const rgba = Uint8Array.from({ length: size * size * 4 }, (_, i) =>
    i % 4 === 3 ? 255 : Math.floor(random() * 256),
  );
  const glb = await writeUnlitGlb(floor(2), 'Floor', [encodePng({ width: size, height: size, rgba })]);
  const server = await createServer({ root: '.', configFile: false, logLevel: 'error', server: { port: 0 } });
  await server.listen();
  try {
    await page.goto(`${server.resolvedUrls!.local[0]!}tests/browser/pages/three-check.html`);
    await page.waitForFunction(() => 'loaded' in window);
    const shown = await page.evaluate(
      (base64) =>
        (window as unknown as { show(b: string): Promise<{ kinds: string[]; pixels: number[] }> }).show(
          base64,
        ),
      Buffer.from(glb).toString('base64'),
    );
    expect(shown.kinds).toEqual(['MeshBasicMaterial']);
    let worst = 0;
    for (let y = 0; y < size; y++) {
      for (let x = 0; x < size; x++) {
        // The middle of the 4 x 4 pixels that show texel (x, y); readPixels counts rows from below.
        const o = ((255 - (y * 4 + 2)) * 256 + x * 4 + 2) * 4;
        for (let k = 0; k < 3; k++)
          worst = Math.max(worst, Math.abs(shown.pixels[o + k]! - rgba[(y * size + x) * 4 + k]!));
      }
    }
    // three goes to linear light and back: a step of rounding at the most.
    expect(worst).toBeLessThanOrEqual(1);
  } finally {
    await server.close();
  }
});

/** Mean difference of a touched texel, 8-bit levels. */
const LINE_LIMIT = 2;

// Chromium's 2D canvas draws lines with Skia: a rasteriser that has nothing to do with ours. It smooths borders in rough steps, so
// it draws eight times as large, and what a texel has of that is counted.
test('straight ink lines beside the lines of a 2D canvas', async ({ page }) => {
  await page.goto('about:blank');
  const size = 256;
  const random = seededRandom(8);
  const place = (): number => 30 + random() * (size - 60);
  const lines = Array.from({ length: 12 }, () => ({
    from: [place(), place()] as const,
    to: [place(), place()] as const,
    width: 1 + random() * 9,
  }));
  for (const line of lines) {
    const theirs = await page.evaluate(
      ({ size, line }) => {
        const times = 8;
        const side = size * times;
        const context = new OffscreenCanvas(side, side).getContext('2d', { willReadFrequently: true })!;
        context.fillStyle = '#fff';
        context.fillRect(0, 0, side, side);
        context.scale(times, times);
        context.lineWidth = line.width;
        context.lineCap = 'round';
        context.beginPath();
        context.moveTo(...line.from);
        context.lineTo(...line.to);
        context.stroke();
        const { data } = context.getImageData(0, 0, side, side);
        const out = new Array<number>(size * size).fill(0);
        for (let y = 0; y < side; y++) {
          for (let x = 0; x < side; x++) {
            out[Math.floor(y / times) * size + Math.floor(x / times)]! += data[(y * side + x) * 4]!;
          }
        }
        return out.map((v) => v / times ** 2);
      },
      { size, line },
    );
    // The floor is 2 units wide and fills its sheet, seen from above: rows go toward +z.
    const onFloor = ([x, y]: readonly [number, number]): Vec3 => [(x / size) * 2 - 1, 0, (y / size) * 2 - 1];
    const ours = inked(
      floor(),
      [lineThrough([onFloor(line.from), onFloor(line.to)], { width: (line.width / size) * 2 })],
      size,
    );
    let [sum, touched] = [0, 0];
    for (const { at, cover } of ours) {
      const [x, y] = [Math.floor(((at[0] + 1) / 2) * size), Math.floor(((at[2] + 1) / 2) * size)];
      const expected = 255 - theirs[y * size + x]!;
      if (expected === 0 && cover === 0) continue;
      touched++;
      sum += Math.abs(expected - cover * 255);
    }
    expect(touched).toBeGreaterThan(50);
    // Over all texels that either touches, not over the empty ground.
    expect(sum / touched, JSON.stringify(line)).toBeLessThan(LINE_LIMIT);
  }
});
