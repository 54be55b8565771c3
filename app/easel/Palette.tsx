import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { rectSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useRef } from 'react';
import { Dropdown } from 'react-bootstrap';
import type { Swatch } from '../../core/document';
import { Chip } from '../shared/Chip';
import { dragColor, endColorDrag, useColorSource } from '../shared/color-drag';
import { openMenu } from '../shared/context-menu';
import { colorClipboard } from '../shared/color-clipboard';
import { useTip } from '../shared/commands';
import { FixedMenu } from '../shared/FixedMenu';
import { type Session, useProject } from '../project';
import { useUi } from '../shared/ui-store';
import { addPaletteFiles, mergeAlike } from './palette-import';
import { removeSwatch } from './swatch-actions';
import { groupsOf, ORDERS, sortSwatches, type Order } from './sort-swatches';
import { TextField } from '../shared/TextField';

const NONE: readonly Swatch[] = [];

interface Props {
  readonly session: Session;
  readonly onTake?: ((color: string) => void) | undefined;
}

/** The project's colours: a click picks one, dragging orders them. */
export function Palette({ session, onTake }: Props) {
  const palette = useProject((s) => s.document?.palette) ?? NONE;
  const color = useUi((s) => s.color);
  const chosen = useUi((s) => s.swatch);
  const host = useRef<HTMLElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const swatch =
    palette.find((s) => s.id === chosen && s.color === color) ?? palette.find((s) => s.color === color);
  const move = (id: number, to: number): void =>
    void session.command({ do: 'move-swatch', swatch: id, to: Math.max(0, to) });
  const take = (s: Swatch, isApplied: boolean): void => {
    useUi.setState({ color: s.color, swatch: s.id });
    if (isApplied) onTake?.(s.color);
  };
  return (
    <section className="palette" aria-label="Palette" ref={host}>
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
        autoScroll={false}
        onDragMove={({ active, activatorEvent, delta }) => {
          const dragged = palette.find((s) => s.id === active.id);
          if (!dragged || !(activatorEvent instanceof PointerEvent)) return;
          dragColor(dragged.color, activatorEvent.clientX + delta.x, activatorEvent.clientY + delta.y);
        }}
        onDragCancel={() => endColorDrag(false)}
        onDragEnd={({ active, over, activatorEvent, delta }) => {
          const isOut =
            activatorEvent instanceof PointerEvent &&
            !isInside(host.current, activatorEvent.clientX + delta.x, activatorEvent.clientY + delta.y);
          endColorDrag(isOut);
          if (isOut || !over || active.id === over.id) return;
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
                    onTake={(isApplied) => take(s, isApplied)}
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
      <LastColors onTake={onTake} />
    </section>
  );
}

function isInside(element: HTMLElement | null, x: number, y: number): boolean {
  const box = element?.getBoundingClientRect();
  return !!box && x >= box.left && x <= box.right && y >= box.top && y <= box.bottom;
}

function AddSwatch({ session, color }: { readonly session: Session; readonly color: string }) {
  const tip = useTip();
  return (
    <div className="row">
      <Chip
        title={tip('Add the colour in hand to the palette', 'swatch-add')}
        onClick={() => void session.command({ do: 'add-swatches', swatches: [{ name: '', color }] })}
      >
        Add {color}
      </Chip>
      <Chip
        title={tip('Add the colours of design tokens, of a strip or of any picture', 'palette-add-file')}
        onClick={() => void addPaletteFiles(session)}
      >
        From file…
      </Chip>
    </div>
  );
}

function SortMenu({ session, palette }: { readonly session: Session; readonly palette: readonly Swatch[] }) {
  return (
    <Dropdown align="end" className="sort-menu">
      <Dropdown.Toggle as="button" type="button" className="chip">
        Sort
      </Dropdown.Toggle>
      <FixedMenu>
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
        <Dropdown.Divider />
        <Dropdown.Item as="button" onClick={() => void mergeAlike(session)}>
          Merge what looks alike
        </Dropdown.Item>
      </FixedMenu>
    </Dropdown>
  );
}

/** Name and group of a swatch, and its removal. */
function ChosenSwatch({ session, swatch }: { readonly session: Session; readonly swatch: Swatch }) {
  const field = (key: 'name' | 'group', label: string) => (
    <TextField
      key={`${swatch.id} ${swatch[key]}`}
      className="swatch-name"
      value={swatch[key]}
      placeholder={key}
      aria-label={label}
      maxLength={60}
      mayBeEmpty
      onText={(text) => session.command({ do: 'patch-swatch', swatch: swatch.id, patch: { [key]: text } })}
    />
  );
  return (
    <>
      {field('name', 'Name of the chosen colour')}
      {field('group', 'Group of the chosen colour')}
      <Chip
        title="Remove the chosen colour from the palette"
        onClick={() => void removeSwatch(session, swatch.id)}
      >
        Remove
      </Chip>
    </>
  );
}

const SWATCH_ENTRIES = ['part-color', 'swatch-replace', 'swatch-copy', null, 'swatch-remove'] as const;

interface SwatchProps {
  readonly swatch: Swatch;
  readonly on: boolean;
  /** @param isApplied whether it goes to what is chosen, too */
  readonly onTake: (isApplied: boolean) => void;
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
      title={`${name} (drag it onto a part; Alt ← → moves it)`}
      {...listeners}
      aria-label={swatch.name || `Colour ${swatch.color}`}
      aria-pressed={on}
      onClick={() => onTake(true)}
      onContextMenu={(e) => {
        e.preventDefault();
        onTake(false);
        openMenu({ x: e.clientX, y: e.clientY, title: name, entries: SWATCH_ENTRIES });
      }}
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
function LastColors({ onTake }: { readonly onTake?: ((color: string) => void) | undefined }) {
  const last = useUi((s) => s.lastColors);
  if (last.length === 0) return null;
  return (
    <div className="last-colors" role="group" aria-label="Last colours">
      <small>last</small>
      {last.map((color) => (
        <LastColor key={color} color={color} onTake={onTake} />
      ))}
    </div>
  );
}

function LastColor({
  color,
  onTake,
}: {
  readonly color: string;
  readonly onTake?: ((color: string) => void) | undefined;
}) {
  const source = useColorSource(color);
  return (
    <button
      type="button"
      className="swatch"
      style={{ background: color }}
      title={`${color} (drag it onto a part)`}
      aria-label={`Last colour ${color}`}
      onClick={() => {
        useUi.setState({ color });
        onTake?.(color);
      }}
      {...source}
      {...colorClipboard(color)}
    />
  );
}
