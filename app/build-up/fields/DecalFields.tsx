import { useEffect, useState } from 'react';
import { Form } from 'react-bootstrap';
import { MOST_LETTERS, type DecalSpec } from '../../../core/decal';
import type { Commander, Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { degrees, percent, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { choosePattern, patternOfWords } from './patterns';

interface Props {
  readonly session: Session;
  readonly decal: DecalSpec;
  readonly onChange: (next: DecalSpec, gesture: string | null) => void;
}

const LIES = {
  wrapped: ['Wrapped', 'Laid onto the form like a sticker: its distances run along the surface'],
  straight: ['Straight', 'Thrown onto the form from one direction, which stays when it is moved'],
} as const;

/** Which picture or words a decal shows, and how it lies. */
export function DecalFields({ session, decal, onChange }: Props) {
  const set = (patch: Partial<DecalSpec>, g: string | null = null): void =>
    onChange({ ...decal, ...patch }, g);
  const { words, copies } = decal;
  const axis = copies?.axis ?? null;
  const show = (find: (as: Commander) => Promise<number | null>, next: DecalSpec['words']): Promise<void> =>
    session.deed('Change the decal', async (as) => {
      const picture = await find(as);
      if (picture !== null) as.also(() => set({ picture, words: next }));
    });
  return (
    <>
      <Words
        key={words?.text ?? ''}
        words={words}
        onChange={(next) => show((as) => patternOfWords(as, next.text, next.color), next)}
      />
      <div className="row" role="group" aria-label="How it lies">
        {(['wrapped', 'straight'] as const).map((lies) => (
          <Chip key={lies} on={decal.lies === lies} title={LIES[lies][1]} onClick={() => set({ lies })}>
            {LIES[lies][0]}
          </Chip>
        ))}
        <Chip on={decal.flip} title="Left becomes right" onClick={() => set({ flip: !decal.flip })}>
          Flip
        </Chip>
        <Chip title="Show another picture" onClick={() => void show(choosePattern, null)}>
          Picture…
        </Chip>
      </div>
      <Slider
        label="Width"
        says="Its width, in parts of the model"
        value={decal.width}
        min={0.01}
        max={1}
        step={0.005}
        curve={2}
        {...percent}
        onChange={(width, g) => set({ width }, g)}
      />
      <Slider
        label="Stretch"
        says="Its height, in parts of what its shape makes it"
        value={decal.stretch}
        min={0.2}
        max={4}
        step={0.02}
        curve={2}
        {...percent}
        onChange={(stretch, g) => set({ stretch }, g)}
      />
      <Slider
        label="Turn"
        says="How far it is turned"
        value={decal.turn}
        min={-Math.PI}
        max={Math.PI}
        step={Math.PI / 180}
        {...degrees}
        onChange={(turn, g) => set({ turn }, g)}
      />
      <div className="row" role="group" aria-label="Where else it is set">
        <Chip
          on={(copies?.planes.length ?? 0) > 0}
          title="On the other side of left and right too"
          onClick={() => set({ copies: copiesWith(!(copies?.planes.length ?? 0), axis?.count ?? 0) })}
        >
          Both sides
        </Chip>
        <Chip
          on={axis !== null}
          title="In a ring round the upright axis"
          onClick={() => set({ copies: copiesWith((copies?.planes.length ?? 0) > 0, axis ? 0 : 8) })}
        >
          Ring
        </Chip>
      </div>
      {axis && (
        <Slider
          label="Count"
          says="How many stand in the ring"
          value={axis.count}
          min={2}
          max={48}
          step={1}
          onChange={(count, g) =>
            set({ copies: copiesWith((copies?.planes.length ?? 0) > 0, Math.round(count)) }, g)
          }
        />
      )}
    </>
  );
}

/** Copies about the middle of the model. @param count in a ring; 0 for none */
function copiesWith(sides: boolean, count: number): DecalSpec['copies'] {
  if (!sides && count === 0) return null;
  return {
    planes: sides ? [{ point: [0, 0, 0], normal: [1, 0, 0] }] : [],
    axis: count > 0 ? { point: [0, 0, 0], direction: [0, 1, 0], count, span: 360 } : null,
  };
}

function Words({
  words,
  onChange,
}: {
  readonly words: DecalSpec['words'];
  readonly onChange: (words: NonNullable<DecalSpec['words']>) => Promise<void>;
}) {
  const color = useUi((s) => s.color);
  const [text, setText] = useState(words?.text ?? '');
  useEffect(() => setText(words?.text ?? ''), [words]);
  const done = (): void => {
    if (text.trim() && text !== words?.text)
      void onChange({ text: text.trim(), color: words?.color ?? color });
  };
  return (
    <div className="row">
      <Form.Control
        size="sm"
        aria-label="Words"
        placeholder="Words"
        maxLength={MOST_LETTERS}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={done}
        onKeyDown={(e) => {
          if (e.key === 'Enter') done();
          e.stopPropagation();
        }}
      />
      {words && (
        <Chip
          title="Write them in the colour in hand"
          onClick={() => void onChange({ text: words.text, color })}
        >
          <i className="swatch-dot" style={{ background: words.color }} aria-hidden /> Colour
        </Chip>
      )}
    </div>
  );
}
