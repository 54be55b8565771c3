import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useCommandBook } from '../../shared/commands';
import { fillRest, projectReference, takePalettes, takeRamps } from './from-reference';

/** What the reference can give through its camera. Chosen parts only, where some are chosen. */
export function FromReference({ session }: { readonly session: Session }) {
  const { run } = useCommandBook();
  return (
    <div className="match-section">
      <div className="row">
        <Chip
          title="The main colours of the chosen parts, or of all, as groups of the palette"
          onClick={() => void takePalettes(session)}
        >
          Palettes of parts
        </Chip>
        <Chip
          title="A tone ramp a part, by how much of the key light falls there in the reference; holds on all sides"
          onClick={() => void takeRamps(session)}
        >
          Ramps of parts
        </Chip>
      </div>
      <div className="row">
        <Chip
          title="Lays the picture on what it sees, fading with facing and depth, under a mask to paint on"
          onClick={() => void projectReference(session)}
        >
          Project it
        </Chip>
        <Chip
          title="What it doesn’t see, from the nearest place that it sees; in a layer that says so"
          onClick={() => void fillRest(session, 'along')}
        >
          Fill the rest
        </Chip>
        <Chip
          title="What it doesn’t see, from the model’s other side; in a layer that says so"
          onClick={() => void fillRest(session, 'mirror')}
        >
          From the other side
        </Chip>
      </div>
      <div className="row">
        <Chip
          title="Takes the brush that paints what the picture shows, with the reference over the model as its camera sees it"
          onClick={() => run('paint-through-camera')}
        >
          Paint through it…
        </Chip>
      </div>
      <p className="hint-line">
        Through the reference’s camera; of the chosen parts only, where some are chosen.
      </p>
    </div>
  );
}
