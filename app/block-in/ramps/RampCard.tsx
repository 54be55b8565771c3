import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { MOST_RAMP_COLORS, type ProjectRamp, type ProjectRamps } from '../../../core/ramps';
import { type Session, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { ColorField } from '../../shared/ColorField';
import { FixedMenu } from '../../shared/FixedMenu';
import { RenameField } from '../../shared/RenameField';
import { useDragOntoModel } from '../../viewport';
import { changeSheet, dropRamp, putChosenOn, putOn } from './ramp-actions';
import { useSeatInHand } from './ramp-hand';

/** A ramp's colours, the first below. */
export const rampGradient = (colors: readonly string[], way = '0deg'): string =>
  `linear-gradient(${way} in oklab, ${colors.join(', ')})`;

/** One ramp: clicked to put on it what is chosen, dragged onto a part, its name opens what can be changed. */
export function RampCard({
  session,
  ramp,
  ramps,
}: {
  readonly session: Session;
  readonly ramp: ProjectRamp;
  readonly ramps: ProjectRamps;
}) {
  const isOn = useSeatInHand()?.ramp === ramp.id;
  const { at, handlers } = useDragOntoModel({
    click: () => void putChosenOn(session, ramp.id),
    drop: (hit) => void dropRamp(session, ramp.id, hit),
  });
  return (
    <li className={isOn ? 'ramp-card on' : 'ramp-card'}>
      <button
        type="button"
        className="ramp-strip"
        style={{ background: rampGradient(ramp.colors) }}
        aria-label={`Put what is chosen on ${ramp.name}`}
        title="Drag it onto a part; a click puts what is chosen on it"
        {...handlers}
      />
      <RampMenu session={session} ramp={ramp} ramps={ramps} />
      {at && (
        <i
          className="dragged-ramp"
          style={{ background: rampGradient(ramp.colors), left: at.x, top: at.y }}
          aria-hidden
        />
      )}
    </li>
  );
}

function RampMenu({
  session,
  ramp,
  ramps,
}: {
  readonly session: Session;
  readonly ramp: ProjectRamp;
  readonly ramps: ProjectRamps;
}) {
  const regions = useProject((s) => s.document?.regions) ?? [];
  const [isRenaming, setRenaming] = useState(false);
  const index = ramps.ramps.indexOf(ramp);
  const change = (next: Partial<ProjectRamp>, gesture: string | null = null): void =>
    void changeSheet(session, { ramps: ramps.ramps.with(index, { ...ramp, ...next }) }, gesture);
  const { colors } = ramp;
  const seated = ramps.seats.filter((s) => s.ramp === ramp.id).length;
  if (isRenaming) {
    return (
      <RenameField
        name={ramp.name}
        label="Name of the ramp"
        most={60}
        onDone={(name) => {
          setRenaming(false);
          if (name) change({ name });
        }}
      />
    );
  }
  return (
    <Dropdown autoClose="outside" drop="up">
      <Dropdown.Toggle as="button" type="button" className="ramp-name" title={ramp.name}>
        {ramp.name}
      </Dropdown.Toggle>
      <FixedMenu renderOnMount={false}>
        <div className="pop ramp-pop">
          <b>{ramp.name}</b>
          <small>{seated === 0 ? 'nothing lies on it' : `${seated} on it`}</small>
          {[...colors.keys()].reverse().map((i) => (
            <div className="row" key={i}>
              <ColorField
                label={i === 0 ? 'Darkest' : i === colors.length - 1 ? 'Lightest' : `Colour ${i + 1}`}
                color={colors[i]!}
                onChange={(color, g) => change({ colors: colors.with(i, color) }, g)}
              />
              <button
                type="button"
                className="step-off"
                aria-label={`Remove colour ${i + 1}`}
                disabled={colors.length <= 2}
                onClick={() => change({ colors: colors.toSpliced(i, 1) })}
              >
                ×
              </button>
            </div>
          ))}
          <div className="row">
            <Chip
              disabled={colors.length >= MOST_RAMP_COLORS}
              onClick={() => change({ colors: [...colors, colors.at(-1)!] })}
            >
              Add a colour
            </Chip>
            <Chip onClick={() => change({ colors: colors.toReversed() })}>Turn over</Chip>
          </div>
          <div className="row">
            <Chip onClick={() => setRenaming(true)}>Rename</Chip>
            <Chip
              disabled={index === 0}
              title="One place to the left"
              onClick={() =>
                void changeSheet(session, {
                  ramps: ramps.ramps.toSpliced(index, 1).toSpliced(index - 1, 0, ramp),
                })
              }
            >
              To the left
            </Chip>
            <Chip
              disabled={ramps.ramps.length <= 2}
              title={seated ? 'What lies on it gets its own paint again' : undefined}
              onClick={() => void changeSheet(session, { ramps: ramps.ramps.toSpliced(index, 1) })}
            >
              Remove
            </Chip>
          </div>
          {regions.length > 0 && (
            <div className="row" role="group" aria-label={`Put a region on ${ramp.name}`}>
              {regions.map(({ id, name }) => (
                <Chip
                  key={id}
                  title={`Put this region on ${ramp.name}`}
                  onClick={() => void putOn(session, { region: id }, ramp.id)}
                >
                  {name}
                </Chip>
              ))}
            </div>
          )}
        </div>
      </FixedMenu>
    </Dropdown>
  );
}
