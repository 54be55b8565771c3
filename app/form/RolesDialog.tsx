import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { rolesOf } from '../../core/document';
import { type Session, useProject } from '../project';
import { FixedMenu } from '../shared/FixedMenu';
import { FormDialog } from '../shared/FormDialog';
import { layWithRoles, useShelf } from './recipes';

/** Asks which parts play which role of a recipe that was made on another model. */
export function RolesDialog({ session }: { readonly session: Session }) {
  const asking = useShelf((s) => s.asking);
  const parts = useProject((s) => s.mesh?.parts) ?? [];
  const [players, setPlayers] = useState<ReadonlyMap<string, readonly string[]>>(new Map());
  if (!asking) return null;
  const close = (): void => {
    setPlayers(new Map());
    useShelf.setState({ asking: null });
  };
  const roles = rolesOf(asking.recipe);
  const playersOf = (role: string): readonly string[] =>
    players.get(role) ?? (parts.includes(role) ? [role] : []);
  return (
    <FormDialog
      title="Who plays which role?"
      submit="Lay it"
      onSubmit={() => {
        const map = roles.map((role) => [role, playersOf(role)] as const);
        setPlayers(new Map());
        void layWithRoles(session, asking, map);
      }}
      onClose={close}
    >
      <p>
        “{asking.recipe.name}” was made on a model with other parts. A role may be played by several. What no
        part plays is left out; the rest lies everywhere.
      </p>
      <div className="roles">
        {roles.map((role) => (
          <Role
            key={role}
            role={role}
            parts={parts}
            players={playersOf(role)}
            onChange={(next) => setPlayers(new Map([...players, [role, next]]))}
          />
        ))}
      </div>
    </FormDialog>
  );
}

/** A role and the parts that play it, each ticked in a list. */
function Role({
  role,
  parts,
  players,
  onChange,
}: {
  readonly role: string;
  readonly parts: readonly string[];
  readonly players: readonly string[];
  readonly onChange: (players: readonly string[]) => void;
}) {
  const said = players.length === 0 ? 'no part' : players.join(', ');
  return (
    <div className="field">
      {role}
      <Dropdown autoClose="outside">
        <Dropdown.Toggle
          as="button"
          type="button"
          className="chip role-players"
          aria-label={`Parts that play ${role}: ${said}`}
        >
          <span>{said}</span>
        </Dropdown.Toggle>
        <FixedMenu className="role-menu">
          {parts.map((part) => {
            const plays = players.includes(part);
            return (
              <Dropdown.Item
                key={part}
                as="button"
                type="button"
                role="menuitemcheckbox"
                aria-checked={plays}
                onClick={() => onChange(plays ? players.filter((p) => p !== part) : [...players, part])}
              >
                <span aria-hidden className="tick">
                  {plays ? '✓' : ''}
                </span>
                {part}
              </Dropdown.Item>
            );
          })}
        </FixedMenu>
      </Dropdown>
    </div>
  );
}
