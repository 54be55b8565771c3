import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { CUE_KINDS } from '../cues';
import { readMeasured, writeMeasured } from './measured-file';

const file = {
  model: 'abc',
  sizes: [128, 256],
  cues: [
    { spec: CUE_KINDS.occlusion.usual, values: Uint16Array.of(0, 65535, 300) },
    { spec: CUE_KINDS.height.usual, values: Uint16Array.of(7) },
  ],
};

describe('a file of measured cues', () => {
  it('comes back as it was written', () => {
    expect(readMeasured(writeMeasured(file))).toEqual(file);
  });

  it('is refused with a sentence where it is damaged', () => {
    const refused = expect.objectContaining({ code: 'file-not-a-project' });
    expect(() => readMeasured(Uint8Array.of(1, 2, 3))).toThrow(refused);
    expect(() => readMeasured(writeMeasured(file).slice(0, -40))).toThrow(refused);
    expect(() => readMeasured(zipSync({ 'measured.json': new TextEncoder().encode('{}') }))).toThrow(refused);
    const list = {
      format: 'zanahoria-measured',
      version: 1,
      model: 'a',
      sizes: [64],
      cues: [CUE_KINDS.height.usual],
    };
    const head = new TextEncoder().encode(JSON.stringify(list));
    expect(() => readMeasured(zipSync({ 'measured.json': head }))).toThrow(refused);
    expect(() => readMeasured(zipSync({ 'measured.json': head, '0.bin': new Uint8Array(3) }))).toThrow(
      refused,
    );
  });
});
