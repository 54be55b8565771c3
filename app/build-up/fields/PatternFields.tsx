import { useEffect, useState } from 'react';
import type { PatternSpec } from '../../../core/pattern';
import { type Commander, type Session, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { degrees, percent, ShareSlider, Slider } from '../../shared/Slider';
import { addShipped, choosePattern, openPatterns, shippedUrl, useShippedPatterns } from './patterns';

interface Props {
  readonly session: Session;
  readonly tiled: PatternSpec;
  readonly onChange: (next: PatternSpec, gesture: string | null) => void;
}

const LAY_WORDS = {
  sides: [
    'Over the form',
    'Seen from the three sides of the model, one running into the other: it has no seams',
  ],
  sheet: ['On the sheet', 'As it lies on the flat sheet'],
} as const;

/** Which picture is tiled, and how. */
export function PatternFields({ session, tiled, onChange }: Props) {
  const set = (patch: Partial<PatternSpec>, g: string | null): void => onChange({ ...tiled, ...patch }, g);
  return (
    <>
      <PatternGrid session={session} chosen={tiled.pattern} onChoose={(pattern) => set({ pattern }, null)} />
      <div className="row" role="group" aria-label="How it lies">
        {(['sides', 'sheet'] as const).map((lay) => (
          <Chip key={lay} on={tiled.lay === lay} title={LAY_WORDS[lay][1]} onClick={() => set({ lay }, null)}>
            {LAY_WORDS[lay][0]}
          </Chip>
        ))}
      </div>
      <Slider
        label="Size"
        says={
          tiled.lay === 'sides'
            ? 'Width of a tile, in parts of the model'
            : 'Width of a tile, in parts of the sheet'
        }
        value={tiled.size}
        min={0.02}
        max={2}
        step={0.005}
        curve={2}
        {...percent}
        onChange={(size, g) => set({ size }, g)}
      />
      <Slider
        label="Turn"
        says="How far it is turned"
        value={tiled.turn}
        min={-Math.PI}
        max={Math.PI}
        step={Math.PI / 180}
        {...degrees}
        onChange={(turn, g) => set({ turn }, g)}
      />
      <Slider
        label="Contrast"
        value={tiled.contrast}
        min={0}
        max={3}
        step={0.05}
        {...percent}
        onChange={(contrast, g) => set({ contrast }, g)}
      />
      {tiled.lay === 'sides' && (
        <ShareSlider
          label="Blend"
          says="How far the sides run into one another"
          value={tiled.blend}
          onChange={(blend, g) => set({ blend }, g)}
        />
      )}
    </>
  );
}

/** The project's patterns, those that come with the program, and a way to any picture. */
function PatternGrid({
  session,
  chosen,
  onChoose,
}: {
  readonly session: Session;
  readonly chosen: number;
  readonly onChoose: (pattern: number) => void;
}) {
  const all = useProject((s) => s.document?.patterns) ?? [];
  const own = all.filter((p) => p.listed || p.id === chosen);
  const shipped = useShippedPatterns((s) => s.patterns);
  useEffect(() => void openPatterns(), []);
  const names = new Set(own.map((p) => p.name));
  const take = (find: (as: Commander) => Promise<number | null>): Promise<void> =>
    session.deed('Choose a pattern', async (as) => {
      const id = await find(as);
      if (id !== null) as.also(() => onChoose(id));
    });
  return (
    <div className="pattern-grid" role="group" aria-label="Patterns">
      {own.map((p) => (
        <button
          key={p.id}
          type="button"
          aria-pressed={p.id === chosen}
          title={p.name}
          aria-label={p.name}
          onClick={() => onChoose(p.id)}
        >
          <OwnPicture session={session} id={p.id} />
        </button>
      ))}
      {shipped
        .filter(({ title }) => !names.has(title))
        .map((p) => (
          <button
            key={p.file}
            type="button"
            title={p.title}
            aria-label={p.title}
            onClick={() => void take((as) => addShipped(as, p))}
          >
            <img src={shippedUrl(p)} alt="" />
          </button>
        ))}
      <button
        type="button"
        className="any"
        title="Tile any picture: PNG, JPEG or WebP"
        onClick={() => void take(choosePattern)}
      >
        Picture…
      </button>
    </div>
  );
}

function OwnPicture({ session, id }: { readonly session: Session; readonly id: number }) {
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    let made: string | null = null;
    let gone = false;
    void session.file(id).then((bytes) => {
      if (!bytes || gone) return;
      made = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' }));
      setUrl(made);
    });
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [session, id]);
  return url ? <img src={url} alt="" /> : <i />;
}
