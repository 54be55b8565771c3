import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { PALETTE_LEAST, PALETTE_MOST } from '../../core/color';
import type { BoardPlace, Reference } from '../../core/document';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { FixedMenu } from '../shared/FixedMenu';
import { Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { cropped } from './board-geometry';
import { addPictureColors, USUAL_COLORS } from './picture-palette';
import { removePicture } from './remove-picture';
import { TextField } from '../shared/TextField';

const NONE: readonly Reference[] = [];

/** The picture that is chosen on the board; the first one otherwise. */
export function useChosenReference(): { readonly reference: Reference | undefined; readonly index: number } {
  const references = useProject((s) => s.document?.references) ?? NONE;
  const chosen = useUi((s) => s.reference);
  const index = Math.max(
    0,
    references.findIndex((r) => r.id === chosen),
  );
  return { reference: references[index], index };
}

/** What can be done with the board and the picture that is chosen on it. */
export function ReferenceControls({ session }: { readonly session: Session }) {
  const count = useProject((s) => s.document?.references.length) ?? 0;
  const grey = useUi((s) => s.referenceGrey);
  const pickSize = useUi((s) => s.pickSize);
  const arranges = useUi((s) => s.arrangesBoard);
  const { reference } = useChosenReference();
  const { run } = useCommandBook();
  const tip = useTip();
  return (
    <div className="row">
      <Chip
        on={grey}
        title={tip('Show only the values of the pictures', 'reference-values')}
        onClick={() => run('reference-values')}
      >
        Values
      </Chip>
      <Chip
        title="A click on a picture picks the mean colour of this many pixels across"
        onClick={() => useUi.setState({ pickSize: pickSize === 1 ? 5 : pickSize === 5 ? 15 : 1 })}
      >
        Pick {pickSize} px
      </Chip>
      {count > 1 && (
        <Chip title={tip('Next picture', 'reference-next')} onClick={() => run('reference-next')}>
          Next
        </Chip>
      )}
      <Chip title={tip('Add pictures from files', 'reference-add')} onClick={() => run('reference-add')}>
        Add…
      </Chip>
      {count > 0 && (
        <Chip
          on={arranges}
          title={tip('Move, turn and scale the pictures on the board', 'reference-arrange')}
          onClick={() => run('reference-arrange')}
        >
          Arrange
        </Chip>
      )}
      {reference && <PictureMenu key={reference.id} session={session} reference={reference} />}
    </div>
  );
}

const SIDES = [
  ['left', 'Crop left'],
  ['top', 'Crop top'],
  ['right', 'Crop right'],
  ['bottom', 'Crop bottom'],
] as const;

function PictureMenu({ session, reference }: { readonly session: Session; readonly reference: Reference }) {
  const { board } = reference;
  const { run } = useCommandBook();
  const isFloating = useUi((s) => s.floating !== null);
  const [colors, setColors] = useState(USUAL_COLORS);
  const patch = (change: Partial<BoardPlace>, gesture: string | null = null): void =>
    void session.command(
      { do: 'patch-reference', reference: reference.id, patch: { board: { ...board, ...change } } },
      gesture,
    );
  return (
    <Dropdown autoClose="outside" className="picture-menu">
      <Dropdown.Toggle as="button" type="button" className="chip" title={`How “${reference.name}” is seen`}>
        Picture
      </Dropdown.Toggle>
      <FixedMenu>
        <div className="pop">
          <TextField
            className="swatch-name"
            value={reference.name}
            aria-label="Name of the picture"
            maxLength={120}
            onText={(name) =>
              session.command({ do: 'patch-reference', reference: reference.id, patch: { name } })
            }
          />
          <textarea
            key={reference.note}
            defaultValue={reference.note}
            placeholder="note"
            aria-label="Note on the picture"
            maxLength={500}
            rows={2}
            onBlur={(e) => {
              const note = e.target.value.trim();
              if (note === reference.note) return;
              void session.command({ do: 'patch-reference', reference: reference.id, patch: { note } });
            }}
          />
          <div className="row">
            <Chip
              on={board.mirror}
              title="Left and right changed"
              onClick={() => patch({ mirror: !board.mirror })}
            >
              Mirror
            </Chip>
            <Chip
              on={board.values}
              title="Only this one in values"
              onClick={() => patch({ values: !board.values })}
            >
              Values
            </Chip>
            <Chip
              on={isFloating}
              title="A small board over the picture"
              onClick={() => run('reference-float')}
            >
              Float
            </Chip>
          </div>
          <Slider
            label="Turn"
            value={(board.turn * 180) / Math.PI}
            min={-180}
            max={180}
            step={1}
            show={(v) => `${Math.round(v)}°`}
            onChange={(v, g) => patch({ turn: (v * Math.PI) / 180 }, g)}
          />
          {SIDES.map(([side, label]) => {
            const value = side === 'left' || side === 'top' ? board.crop[side] : 1 - board.crop[side];
            return (
              <Slider
                key={side}
                label={label}
                value={value}
                min={0}
                max={0.95}
                step={0.01}
                show={(v) => `${Math.round(v * 100)} %`}
                read={(text) => Number.parseFloat(text) / 100}
                onChange={(v, g) => patch({ crop: cropped(board.crop, side, v - value) }, g)}
              />
            );
          })}
          <Slider
            label="Colours"
            says="How many colours are looked for"
            value={colors}
            min={PALETTE_LEAST}
            max={PALETTE_MOST}
            step={1}
            onChange={setColors}
          />
          <Chip
            title="Its main colours, the largest share first, as a group of the palette"
            onClick={() => void addPictureColors(session, [reference], colors)}
          >
            Add its colours to the palette
          </Chip>
          <Chip
            title="Draw a line around a part of it: the colours within come into the palette"
            onClick={() => useUi.setState({ lassoColors: colors, arrangesBoard: false, picking: false })}
          >
            Colours within a line…
          </Chip>
          <Chip title="Remove it from the easel" onClick={() => void removePicture(session, reference)}>
            Remove
          </Chip>
        </div>
      </FixedMenu>
    </Dropdown>
  );
}
