import { z } from 'zod';
import { bytesToBase64 } from '../../core/base64';
import { sentenceOf, CoreError } from '../../core/errors';
import { readAs } from '../../core/read-as';
import { PICTURE_TIP } from '../../core/paint';
import { BRUSHES, brushInTray, MOST_BRUSHES, type Brush } from '../shared/brush';
import { bytesOf, chooseFiles, download } from '../shared/files';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { brushInHand, changeBrush, changeShape, useUi } from '../shared/ui-store';

const brushFile = z.strictObject({
  format: z.literal('zanahoria-brush'),
  version: z.literal(1),
  brushes: z.array(brushInTray).min(1).max(MOST_BRUSHES),
});

/** A file of brushes is text of some KB; nothing larger is read. */
const LARGEST_FILE = 2e6;

/** Puts brushes into the tray behind the one in hand, the first of them in hand. */
function put(brushes: readonly Brush[]): boolean {
  const { tray, brush } = useUi.getState();
  if (tray.length + brushes.length > MOST_BRUSHES) {
    notify(`The tray holds at most ${MOST_BRUSHES} brushes. Remove some first.`);
    return false;
  }
  const names = new Set(tray.map((b) => b.name));
  const own = brushes.map((b) => {
    let name = b.name;
    for (let n = 2; names.has(name); n++) name = `${b.name.slice(0, 55)} ${n}`;
    names.add(name);
    return { ...b, name };
  });
  useUi.setState({ tray: tray.toSpliced(brush + 1, 0, ...own), brush: brush + 1 });
  return true;
}

export const addBrush = (): void => void put([brushInHand(useUi.getState())]);

/** Takes the brush in hand out of the tray. */
export function removeBrush(): void {
  const before = useUi.getState();
  const { tray, brush } = before;
  if (tray.length === 1) {
    notify('One brush stays in the tray.');
    return;
  }
  useUi.setState({ tray: tray.toSpliced(brush, 1), brush: Math.min(brush, tray.length - 2) });
  notify(`“${tray[brush]!.name}” was removed from the tray.`, {
    label: 'Undo',
    run: () => useUi.setState({ tray, brush }),
  });
}

const shipped = (brush: Brush): Brush | undefined => BRUSHES.find((b) => b.name === brush.name);

/** As it came with the program. */
export const resetBrush = Object.assign(
  (brush: Brush): void => {
    const first = shipped(brush);
    if (first) changeBrush(first);
  },
  { isThere: (brush: Brush): boolean => JSON.stringify(shipped(brush) ?? brush) !== JSON.stringify(brush) },
);

export const downloadBrush = (brush: Brush): void => downloadBrushes(brush.name, [brush]);

/** All brushes of the set in which one lies. */
export function downloadSet({ set }: Brush): void {
  const brushes = useUi.getState().tray.filter((b) => b.set === set);
  downloadBrushes(set || 'Brushes', brushes);
}

function downloadBrushes(name: string, brushes: Brush[]): void {
  const file = { format: 'zanahoria-brush', version: 1, brushes } satisfies z.infer<typeof brushFile>;
  download(`${name}.brush.json`, `${JSON.stringify(file, null, 2)}\n`, 'application/json');
}

/** Takes a picture from a file as the tip of a brush. */
export async function chooseTip(brush: Brush): Promise<void> {
  const isThere = brush.picture !== null && brush.shape.tip !== PICTURE_TIP;
  if (isThere) {
    // The one that it had before; pressed once more, another can be chosen.
    changeShape({ tip: PICTURE_TIP });
    return;
  }
  const [file] = await chooseFiles('image/png,image/jpeg,image/webp', false);
  if (!file) return;
  try {
    const png = await jobPool.run('tipPng', { file: await bytesOf(file) });
    changeBrush({ picture: bytesToBase64(png as Uint8Array) });
    changeShape({ tip: PICTURE_TIP });
  } catch (error) {
    notify(`${file.name}: ${sentenceOf(error)}`);
  }
}

/** Adds what a file of brushes holds. */
export async function takeBrushFile(): Promise<void> {
  const [file] = await chooseFiles('.json', false);
  if (!file) return;
  try {
    if (file.size > LARGEST_FILE) {
      throw new CoreError('bad-argument', `“${file.name}” is too large for a file of brushes.`);
    }
    const { brushes } = readAs(
      brushFile,
      parsed(await file.text()),
      'bad-argument',
      (where, says) => `“${file.name}” isn’t a file of brushes, at “${where}”: ${says}.`,
    );
    if (put(brushes)) notify(`${brushes.map((b) => `“${b.name}”`).join(', ')} came into the tray.`);
  } catch (error) {
    notify(sentenceOf(error));
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
