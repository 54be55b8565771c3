import { benchBrowser } from './browser';
import type { Row } from './clock';
import { benchDab } from './dab';
import { benchOcclusion } from './occlusion';
import { benchRays } from './rays';
import { benchUnwrap } from './unwrap';

// Every figure beside a peer or a limit, in one run. A ratio above 1 is better than the peer, or within the limit.
const rows: Row[] = [
  ...benchDab(),
  ...benchRays(),
  ...(await benchOcclusion()),
  ...(await benchBrowser()),
  ...(await benchUnwrap()),
];
const width = Math.max(...rows.map((r) => r.what.length));
console.log(`${'what'.padEnd(width)}  ${'ours'.padStart(10)}  ${'peer'.padStart(10)}  ratio`);
for (const { what, ours, peer, ratio } of rows) {
  console.log(`${what.padEnd(width)}  ${ours.padStart(10)}  ${peer.padStart(10)}  ${ratio.toFixed(2)}`);
}
