import { strToU8, zipSync } from 'fflate';
import { z } from 'zod';
import { cueSpec, type CueSpec } from '../cues';
import { CoreError } from '../errors';
import { readZip } from '../formats';

/** A cue that was measured on all covered texels of a model's sheets, in the order of its surface map. */
export interface MeasuredCue {
  readonly spec: CueSpec;
  readonly values: Uint16Array;
}

const listSchema = z.strictObject({
  format: z.literal('zanahoria-measured'),
  version: z.literal(1),
  /** Hash of the model, and the sizes of its sheets: what was measured holds for these only. */
  model: z.string().max(200),
  sizes: z.array(z.int().positive()).max(64),
  cues: z.array(cueSpec).max(100),
});

export interface MeasuredFile {
  readonly model: string;
  readonly sizes: readonly number[];
  readonly cues: readonly MeasuredCue[];
}

/** Bytes that one cue may take: two a texel of eight sheets at 8192. */
const MOST = 2 * 8 * 8192 * 8192;

/** What was measured of a model, as a zip: `measured.json`, and the values of each cue as little-endian 16 bit. */
export function writeMeasured({ model, sizes, cues }: MeasuredFile): Uint8Array {
  const list = { format: 'zanahoria-measured', version: 1, model, sizes, cues: cues.map((c) => c.spec) };
  return zipSync({
    'measured.json': strToU8(JSON.stringify(list)),
    ...Object.fromEntries(
      cues.map(({ values }, i) => [
        `${i}.bin`,
        new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
      ]),
    ),
  });
}

/** @throws CoreError `file-not-a-project` if it is no such file, or damaged */
export function readMeasured(bytes: Uint8Array): MeasuredFile {
  const files = readZip(bytes, {
    entry: (name) => (name === 'measured.json' ? 1e6 : /^\d{1,3}\.bin$/.test(name) ? MOST : 0),
    total: MOST,
  });
  let data: unknown = null;
  try {
    data = JSON.parse(new TextDecoder().decode(files.get('measured.json')));
  } catch {
    // Told below.
  }
  const list = listSchema.safeParse(data);
  const values = list.data?.cues.map((_, i) => files.get(`${i}.bin`));
  if (!list.success || !values || values.some((v) => !v || v.length % 2 !== 0)) {
    throw new CoreError('file-not-a-project', 'That isn’t a file of measured cues. It is measured anew.', {
      cause: list.error,
    });
  }
  const { model, sizes, cues } = list.data;
  return {
    model,
    sizes,
    cues: cues.map((spec, i) => ({ spec, values: new Uint16Array(values[i]!.slice().buffer) })),
  };
}
