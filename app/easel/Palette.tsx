import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { rectSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import type { Swatch } from '../../core/engine';
import { Chip } from '../shared/Chip';
import { colorClipboard } from '../shared/color-clipboard';
import { useTip } from '../shared/commands';
import { undoable } from '../shared/notify';
import { type Session, useProject } from '../project';
import { useUi } from '../shared/ui-store';
import { groupsOf, ORDERS, sortSwatches, type Order } from './sort-swatches';

const NONE: readonly Swatch[] = [];

interface Props {
  readonly session: Session;
  readonly onTake?: (color: string) => void;
}

/** The project's colours: a click picks one, dragging orders them. */
export function Palette({ session, onTake }: Props) {
  const palette = useProject((s) => s.document?.palette) ?? NONE;
  const color = useUi((s) => s.color);
  const [chosen, setChosen] = useState<number | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const swatch =
    palette.find((s) => s.id === chosen && s.color === color) ?? palette.find((s) => s.color === color);
  const move = (id: number, to: number): void =>
    void session.command({ do: 'move-swatch', swatch: id, to: Math.max(0, to) });
  const take = (s: Swatch): void => {
    setChosen(s.id);
    useUi.setState({ color: s.color });
    onTake?.(s.color);
  };
  return (
    <section className="palette" aria-label="Palette">
      <h2>
        Palette{' '}
        <span>
          {palette.length === 0
            ? 'empty'
            : `${palette.length} ${palette.length === 1 ? 'colour' : 'colours'}`}
          {palette.length > 1 && <SortMenu session={session} palette={palette} />}
        </span>
      </h2>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (!over || active.id === over.id) return;
          move(
            Number(active.id),
            palette.findIndex((s) => s.id === over.id),
          );
        }}
      >
        <SortableContext items={palette.map((s) => s.id)} strategy={rectSortingStrategy}>
          {groupsOf(palette).map(({ name, swatches }) => (
            <div key={name} role="group" aria-label={name || 'Colours'}>
              {name && <small className="swatch-group">{name}</small>}
              <div className="swatches">
                {swatches.map((s) => (
                  <SwatchButton
                    key={s.id}
                    swatch={s}
                    on={s.id === swatch?.id}
                    onTake={() => take(s)}
                    onMove={(by) => move(s.id, palette.indexOf(s) + by)}
                    onPaste={(pasted) =>
                      void session.command({ do: 'patch-swatch', swatch: s.id, patch: { color: pasted } })
                    }
                  />
                ))}
              </div>
            </div>
          ))}
        </SortableContext>
      </DndContext>
      <div className="palette-row">
        {swatch ? (
          <ChosenSwatch key={swatch.id} session={session} swatch={swatch} />
        ) : (
          <AddSwatch session={session} color={color} />
        )}
      </div>
      <LastColors {...(onTake ? { onTake } : {})} />
    </section>
  );
}

function AddSwatch({ session, color }: { readonly session: Session; readonly color: string }) {
  const tip = useTip();
  return (
    <Chip
      title={tip('Add the colour in hand to the palette', 'swatch-add')}
      onClick={() => void session.command({ do: 'add-swatches', swatches: [{ name: '', color }] })}
    >
      Add {color}
    </Chip>
  );
}

function SortMenu({ session, palette }: { readonly session: Session; readonly palette: readonly Swatch[] }) {
  return (
    <Dropdown align="end" className="sort-menu">
      <Dropdown.Toggle as="button" type="button" className="chip">
        Sort
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={{ strategy: 'fixed' }}>
        {(Object.keys(ORDERS) as Order[]).map((order) => (
          <Dropdown.Item
            key={order}
            as="button"
            onClick={() =>
              void session.command({ do: 'order-swatches', swatches: sortSwatches(palette, order) })
            }
          >
            {ORDERS[order]}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** Name and group of a swatch, and its removal. */
function ChosenSwatch({ session, swatch }: { readonly session: Session; readonly swatch: Swatch }) {
  const field = (key: 'name' | 'group', label: string) => (
    <input
      className="swatch-name"
      defaultValue={swatch[key]}
      placeholder={key}
      aria-label={label}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      onBlur={(e) => {
        const text = e.target.value.trim().slice(0, 60);
        if (text === swatch[key]) return;
        void session.command({ do: 'patch-swatch', swatch: swatch.id, patch: { [key]: text } });
      }}
    />
  );
  return (
    <>
      {field('name', 'Name of the chosen colour')}
      {field('group', 'Group of the chosen colour')}
      <Chip
        title="Remove the chosen colour from the palette"
        onClick={() => {
          void session
            .command({ do: 'remove-swatches', swatches: [swatch.id] })
            .then(undoable(session, `“${swatch.name || swatch.color}” was removed.`));
        }}
      >
        Remove
      </Chip>
    </>
  );
}

interface SwatchProps {
  readonly swatch: Swatch;
  readonly on: boolean;
  readonly onTake: () => void;
  /** By so many places. */
  readonly onMove: (by: number) => void;
  readonly onPaste: (color: string) => void;
}

function SwatchButton({ swatch, on, onTake, onMove, onPaste }: SwatchProps) {
  const { listeners, setNodeRef, transform, transition } = useSortable({ id: swatch.id });
  const name = swatch.name ? `${swatch.name} ${swatch.color}` : `Colour ${swatch.color}`;
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={on ? 'swatch on' : 'swatch'}
      style={{ background: swatch.color, transform: CSS.Translate.toString(transform), transition }}
      title={`${name} (Alt ← → moves it)`}
      {...listeners}
      aria-label={swatch.name || `Colour ${swatch.color}`}
      aria-pressed={on}
      onClick={onTake}
      onKeyDown={(e) => {
        if (!e.altKey || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return;
        e.preventDefault();
        onMove(e.key === 'ArrowLeft' ? -1 : 1);
      }}
      {...colorClipboard(swatch.color, onPaste)}
    />
  );
}

/** Colours that were painted with, the latest first. */
function LastColors({ onTake }: { readonly onTake?: (color: string) => void }) {
  const last = useUi((s) => s.lastColors);
  if (last.length === 0) return null;
  return (
    <div className="last-colors" role="group" aria-label="Last colours">
      <small>last</small>
      {last.map((color) => (
        <button
          key={color}
          type="button"
          className="swatch"
          style={{ background: color }}
          title={color}
          aria-label={`Last colour ${color}`}
          onClick={() => {
            useUi.setState({ color });
            onTake?.(color);
          }}
          {...colorClipboard(color)}
        />
      ))}
    </div>
  );
}
