import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { percent, Slider } from '../shared/Slider';
import { useView } from '../viewport';
import { usePaint } from './paint-store';
import { chooseThrough, chooseThroughCamera, layWhole } from './tools/through';

/** Which picture lies over the model, and how. */
export function ThroughFields({ session }: { readonly session: Session }) {
  const view = useView();
  const { through, movesThrough } = usePaint();
  const references = useProject((s) => s.document?.references) ?? [];
  const change = (patch: Partial<NonNullable<typeof through>>): void =>
    usePaint.setState((s) => ({ through: s.through && { ...s.through, ...patch } }));
  if (references.length === 0) return <p className="hint-line">Add a reference to the easel first.</p>;
  return (
    <>
      <div className="row" role="group" aria-label="Which reference">
        {references.slice(0, 6).map(({ id, name }) => (
          <Chip
            key={id}
            on={through?.reference === id && !through.bound}
            title="Lay it over the model"
            onClick={() => view && void chooseThrough(session, view, id)}
          >
            {name}
          </Chip>
        ))}
        {references.some((r) => r.match?.camera) && (
          <Chip
            on={through?.bound === true}
            title="The chosen reference as its own camera sees the model: it stays where it is while you look from elsewhere"
            onClick={() => view && void chooseThroughCamera(session, view)}
          >
            Through its camera
          </Chip>
        )}
      </div>
      {through && (
        <div className="row tone-row" role="group" aria-label="How it lies over the model">
          <Slider
            label="Seen"
            says="How much of the picture is seen"
            value={through.opacity}
            min={0}
            max={1}
            step={0.01}
            {...percent}
            onChange={(opacity) => change({ opacity })}
          />
          {!through.bound && (
            <Slider
              label="Width"
              says="Width of the picture over the model"
              value={through.width}
              min={40}
              max={3000}
              step={1}
              curve={2}
              show={(v) => String(Math.round(v))}
              onChange={(width) => {
                // About its middle.
                const by = (width - through.width) / 2;
                const picture = useProject
                  .getState()
                  .document?.patterns.find((p) => p.id === through.pattern);
                const tall = picture ? picture.height / picture.width : 1;
                change({ width, x: through.x - by, y: through.y - by * tall });
              }}
            />
          )}
          {!through.bound && (
            <Chip
              on={movesThrough}
              title="A drag moves the picture instead of painting"
              onClick={() => usePaint.setState({ movesThrough: !movesThrough })}
            >
              Move it
            </Chip>
          )}
          <Chip title="All of it, on whatever is seen" onClick={() => view && void layWhole(session, view)}>
            Lay all
          </Chip>
        </div>
      )}
    </>
  );
}
