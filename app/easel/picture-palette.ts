import { withinOutline } from '../../core/color';
import { type Session, useProject } from '../project';
import { notify, undoable } from '../shared/notify';
import { quickPool } from '../shared/platform';
import { picturePixels } from './board-pixels';

/** Colours that are found in a picture, if nothing else is said. */
export const USUAL_COLORS = 8;

/** Adds the main colours of pictures to the palette, as a group under their name, the largest share first. */
export async function addPictureColors(
  session: Session,
  pictures: readonly {
    readonly id: number;
    readonly name: string;
    /** Only what lies in this line, pixels from the upper left. */
    readonly within?: readonly (readonly [x: number, y: number])[];
  }[],
  count: number,
): Promise<void> {
  const { id: project, document } = useProject.getState();
  const [first] = pictures;
  if (!document || !first) return;
  const parts = await Promise.all(
    pictures.map(async ({ id, within }): Promise<{ readonly data: Uint8Array | Uint8ClampedArray }> => {
      const pixels = await picturePixels(project, id);
      return within ? { data: withinOutline(pixels.data, pixels.width, pixels.height, within) } : pixels;
    }),
  );
  const rgba = new Uint8Array(parts.reduce((n, p) => n + p.data.length, 0));
  let at = 0;
  for (const { data } of parts) {
    rgba.set(data, at);
    at += data.length;
  }
  const colors = await quickPool.run('paletteOf', { rgba, count });
  if (colors.length === 0) {
    notify(
      first.within
        ? `The line holds nothing of “${first.name}”. Draw it around what the colours are wanted of.`
        : `“${first.name}” is transparent all over: it has no colours.`,
    );
    return;
  }
  const group = (pictures.length > 1 ? `${first.name} and ${pictures.length - 1} more` : first.name).slice(
    0,
    60,
  );
  const swatches = colors.map(({ hex, share }) => ({
    name: `${Math.max(1, Math.round(share * 100))} %`,
    color: hex,
    group,
  }));
  await session
    .command({ do: 'add-swatches', swatches })
    .then(
      undoable(
        session,
        `${colors.length} ${colors.length === 1 ? 'colour' : 'colours'} of “${group}” stand in the palette.`,
      ),
    );
}
