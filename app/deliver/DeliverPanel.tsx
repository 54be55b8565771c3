import { useState } from 'react';
import { Form } from 'react-bootstrap';
import { flattenSurface, recipeFromDocument, type DeliveredAlpha } from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { paletteTokens } from '../../core/formats';
import { download, fileNameOf } from '../shared/files';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { type Session, useProject } from '../project';
import { withTask } from '../shared/tasks';

const SIZES = [512, 1024, 2048, 4096, 8192] as const;

/** Every sheet at the size that it has. */
const OWN_SIZE = 0;

/** Texels that colour reaches past the islands. */
const BLEEDS = [
  { label: 'the whole sheet', value: Infinity },
  { label: '32 texels', value: 32 },
  { label: '16 texels', value: 16 },
  { label: '6 texels', value: 6 },
] as const;

interface How {
  /** Texels a side; 0 for the sheet's own. */
  readonly size: number;
  readonly bleed: number;
  readonly alpha: DeliveredAlpha;
}

async function albedo(session: Session, sheet: number, { size, bleed, alpha }: How): Promise<Uint8Array> {
  const { surface, mesh } = useProject.getState();
  if (!surface || !mesh)
    throw new CoreError('bad-argument', 'The surface is still being measured. Try again in a moment.');
  return withTask('Flattening the albedo', async (signal, onProgress) => {
    const rows = await session.sheetRows(sheet);
    if (!rows) throw new CoreError('cancelled', 'The picture could not be flattened. Try again.');
    const own = flattenSurface(surface, sheet);
    return jobPool.run(
      'albedoPng',
      { surface: own, rows, size: size || own.size, bleed, alpha },
      { signal, onProgress },
    );
  });
}

/** Everything that leaves the project. */
export function DeliverPanel({ session }: { readonly session: Session }) {
  const document = useProject((s) => s.document);
  const [size, setSize] = useState<number>(() => {
    const sheets = useProject.getState().document?.sheets ?? [];
    return sheets.length > 1 ? OWN_SIZE : Math.max(512, sheets[0]?.size ?? 1024);
  });
  const [bleed, setBleed] = useState<number>(Infinity);
  const [alpha, setAlpha] = useState<DeliveredAlpha>('opaque');
  const how = { size, bleed, alpha };
  if (!document) return null;
  const name = fileNameOf(document.name);
  const guarded = (work: () => Promise<void>) => (): void => {
    work().catch((error: unknown) => {
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    });
  };
  const { sheets } = document;
  const several = sheets.length > 1;
  const fileOf = (sheet: number): string =>
    several ? `${name}-${fileNameOf(sheets[sheet]!.name)}-albedo.png` : `${name}-albedo.png`;
  const saveAlbedo = (sheet: number) =>
    guarded(async () => download(fileOf(sheet), await albedo(session, sheet, how), 'image/png'));
  const saveModel = guarded(async () => {
    const pngs: Uint8Array[] = [];
    for (const sheet of sheets.keys()) pngs.push(await albedo(session, sheet, how));
    const { mesh } = useProject.getState();
    const glb = await jobPool.run('unlitGlb', { mesh: mesh!, name: document.name, pngs });
    download(`${name}.glb`, glb, 'model/gltf-binary');
  });
  const colors = document.palette;
  const savePalette = guarded(async () =>
    download(`${name}-palette.png`, await jobPool.run('palettePng', { colors }), 'image/png'),
  );
  const saveProject = guarded(async () => {
    const bytes = await withTask('Writing the project file', () => session.projectFile());
    if (bytes) download(`${name}.zip`, bytes, 'application/zip');
  });
  const present = sheets[0]!.size;
  const note =
    size === OWN_SIZE || sheets.every((s) => s.size === size)
      ? 'The sheet’s own size: every texel is delivered as it is stored.'
      : several
        ? `The sheets have ${sheets.map((s) => s.size).join(' and ')} texels a side; they are averaged or interpolated.`
        : `The sheet is ${present} texels a side; it is ${size < present ? 'averaged down' : 'interpolated up'}.`;
  return (
    <section className="panel deliver" aria-label="Deliver">
      <h2>Albedo</h2>
      <label className="field">
        Size
        <Form.Select size="sm" value={size} onChange={(e) => setSize(Number(e.target.value))}>
          {several && <option value={OWN_SIZE}>each its own</option>}
          {SIZES.map((n) => (
            <option key={n} value={n}>
              {n} × {n}
            </option>
          ))}
        </Form.Select>
      </label>
      <label className="field">
        Bleed
        <Form.Select size="sm" value={String(bleed)} onChange={(e) => setBleed(Number(e.target.value))}>
          {BLEEDS.map((b) => (
            <option key={b.label} value={String(b.value)}>
              {b.label}
            </option>
          ))}
        </Form.Select>
      </label>
      <label className="field">
        Alpha
        <Form.Select size="sm" value={alpha} onChange={(e) => setAlpha(e.target.value as DeliveredAlpha)}>
          <option value="opaque">opaque everywhere</option>
          <option value="painted">as it was painted</option>
        </Form.Select>
      </label>
      <p className="hint-line">{note}</p>
      {sheets.map((sheet, i) => (
        <Delivery
          key={i}
          title={several ? `Albedo: ${sheet.name}` : 'Albedo'}
          says={`${fileOf(i)}, 8-bit sRGB`}
          onClick={saveAlbedo(i)}
        />
      ))}
      <Delivery
        title="Unlit model"
        says={several ? `${name}.glb, a material a sheet` : `${name}.glb with the albedo`}
        onClick={saveModel}
      />
      <h2>Palette</h2>
      <Delivery
        title="As a strip"
        says={`${name}-palette.png`}
        onClick={savePalette}
        disabled={colors.length === 0}
      />
      <Delivery
        title="As design tokens"
        says={`${name}-palette.json`}
        disabled={colors.length === 0}
        onClick={() =>
          download(`${name}-palette.json`, paletteTokens(document.name, colors), 'application/json')
        }
      />
      <h2>Project</h2>
      <Delivery title="Project file" says={`${name}.zip, all of it`} onClick={saveProject} />
      <Delivery
        title="Recipe"
        says={`${name}-recipe.json, the build-up without pixels`}
        onClick={() =>
          download(
            `${name}-recipe.json`,
            `${JSON.stringify(recipeFromDocument(document), null, 2)}\n`,
            'application/json',
          )
        }
      />
    </section>
  );
}

function Delivery({
  title,
  says,
  onClick,
  disabled = false,
}: {
  readonly title: string;
  readonly says: string;
  readonly onClick: () => void;
  readonly disabled?: boolean;
}) {
  return (
    <button type="button" className="delivery" onClick={onClick} disabled={disabled}>
      <b>{title}</b>
      <small>{says}</small>
    </button>
  );
}
