import { benchApplication } from './application';
import { benchBrowser } from './browser';
import { benchBuild } from './build';
import type { Row } from './clock';
import { benchCues } from './cues';
import { benchDelivery } from './delivery';
import { benchDab } from './dab';
import { benchDrag } from './drag';
import { benchFrames } from './frames';
import { benchInk } from './ink';
import { benchMatch } from './match';
import { benchOcclusion } from './occlusion';
import { benchRays } from './rays';
import { benchRepaint } from './repaint';
import { benchStorage } from './storage';
import { benchStrokes } from './strokes';
import { benchToon } from './toon';
import { benchUnwrap } from './unwrap';

// Every figure beside a peer or a limit, in one run. A ratio above 1 is better than the peer, or within the limit.
const benches: Record<string, () => Row[] | Promise<Row[]>> = {
  dab: benchDab,
  drag: benchDrag,
  rays: benchRays,
  occlusion: benchOcclusion,
  browser: benchBrowser,
  unwrap: benchUnwrap,
  cues: benchCues,
  strokes: benchStrokes,
  build: benchBuild,
  delivery: benchDelivery,
  storage: benchStorage,
  repaint: benchRepaint,
  ink: benchInk,
  match: benchMatch,
  /** The built application: `npm run build` first. */
  toon: benchToon,
  /** A recorded trace of painting: `npm run build` first. */
  frames: benchFrames,
  /** The built application: `npm run build` first. */
  application: benchApplication,
};

const chosen = process.argv.slice(2);
const unknown = chosen.filter((name) => !Object.hasOwn(benches, name));
if (unknown.length) {
  console.error(
    `There is no bench called ${unknown.join(', ')}. There are: ${Object.keys(benches).join(', ')}.`,
  );
  process.exit(2);
}
const rows: Row[] = [];
for (const [name, bench] of Object.entries(benches)) {
  if (chosen.length === 0 || chosen.includes(name)) rows.push(...(await bench()));
}
const width = Math.max(...rows.map((r) => r.what.length));
console.log(`${'what'.padEnd(width)}  ${'ours'.padStart(10)}  ${'peer'.padStart(10)}  ratio`);
for (const { what, ours, peer, ratio } of rows) {
  console.log(`${what.padEnd(width)}  ${ours.padStart(10)}  ${peer.padStart(10)}  ${ratio.toFixed(2)}`);
}
