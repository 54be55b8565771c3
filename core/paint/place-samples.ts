import { isIdentity, isMirror, scaleOf, type Placing } from '../math';
import { SAMPLE_STRIDE } from './sample';

/** A stroke's samples (see SAMPLE_STRIDE) where they lie on the model as it stands. */
export function placeSamples(samples: readonly number[], placing: Placing): readonly number[] {
  if (isIdentity(placing)) return samples;
  const scale = scaleOf(placing);
  const mirrors = isMirror(placing);
  const out = [...samples];
  for (let o = 0; o + SAMPLE_STRIDE <= samples.length; o += SAMPLE_STRIDE) {
    for (let row = 0; row < 3; row++) {
      let position = placing[row * 4 + 3]!;
      let normal = 0;
      for (let k = 0; k < 3; k++) {
        position += placing[row * 4 + k]! * samples[o + k]!;
        normal += (placing[row * 4 + k]! * samples[o + 3 + k]!) / scale;
      }
      out[o + row] = position;
      out[o + 3 + row] = normal;
    }
    out[o + 6] = samples[o + 6]! * scale;
    if (mirrors) out[o + 9] = -samples[o + 9]!;
  }
  return out;
}
