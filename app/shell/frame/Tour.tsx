import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { Chip } from '../../shared/Chip';
import { remember, remembered } from '../../shared/remembered';
import type { StageName } from '../../shared/ui-store';

interface Card {
  readonly stage: StageName;
  readonly title: string;
  readonly text: string;
}

const CARDS: readonly Card[] = [
  {
    stage: 'paint',
    title: 'Paint on the model',
    text: 'Press and drag on the otter. The right button turns it, the wheel comes nearer, Space moves it. Everything is kept as you go; there is no save button.',
  },
  {
    stage: 'form',
    title: 'Light that stays live',
    text: 'The build-up at the right is laid from the ground up: local colour, a tint where it is occluded, a key light, then paint by hand. Choose “Key and sky” and aim it on the model.',
  },
  {
    stage: 'paint',
    title: 'The easel',
    text: 'References and palette stay at the left. A click on a picture picks its colour; Alt and a click picks from the model. Drop or paste more pictures at any time.',
  },
  {
    stage: 'match',
    title: 'Side by side',
    text: 'Match puts the reference beside the model and tells how far a colour is from the one that is wanted, and which way.',
  },
  {
    stage: 'deliver',
    title: 'Out into the engine',
    text: 'Deliver writes the albedo with its bleed, the unlit model, the palette and the whole project. Begin with your own model from the start page.',
  },
];

/** What the demo is called; a project that was renamed is the artist's own. */
const DEMO_NAME = 'Otter cook';

/** Closed for good. */
const SEEN = 'zanahoria-tour';

/** A short tour over the demo: five cards, closed for good by one click. */
export function Tour({ id, name }: { readonly id: string; readonly name: string }) {
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const [closed, setClosed] = useState(() => remembered(SEEN) !== null);
  const card = CARDS[at]!;
  const open = !closed && name === DEMO_NAME;
  useEffect(() => {
    if (open && at > 0) void navigate(`/project/${id}/${card.stage}`);
  }, [open, at, card, id, navigate]);
  if (!open) return null;
  const close = (): void => {
    remember(SEEN, 'seen');
    setClosed(true);
  };
  const isLast = at === CARDS.length - 1;
  return (
    <section className="tour" aria-label="Tour">
      <small>
        {at + 1} of {CARDS.length}
      </small>
      <h3>{card.title}</h3>
      <p>{card.text}</p>
      <div className="row">
        <Chip onClick={close}>Close the tour</Chip>
        {at > 0 && <Chip onClick={() => setAt(at - 1)}>Back</Chip>}
        <Chip primary onClick={isLast ? close : () => setAt(at + 1)}>
          {isLast ? 'Begin' : 'Next'}
        </Chip>
      </div>
    </section>
  );
}
