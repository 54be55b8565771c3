import { useState } from 'react';
import { Form, Modal } from 'react-bootstrap';
import { rolesOf } from '../../core/engine';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { layWithRoles, useShelf } from './recipes';

const NOBODY = '';

/** Asks which part plays which role of a recipe that was made on another model. */
export function RolesDialog({ session }: { readonly session: Session }) {
  const asking = useShelf((s) => s.asking);
  const parts = useProject((s) => s.mesh?.parts) ?? [];
  const [players, setPlayers] = useState<ReadonlyMap<string, string>>(new Map());
  if (!asking) return null;
  const close = (): void => useShelf.setState({ asking: null });
  const roles = rolesOf(asking.recipe);
  const playerOf = (role: string): string => players.get(role) ?? (parts.includes(role) ? role : NOBODY);
  return (
    <Modal show onHide={close} centered aria-labelledby="roles-title">
      <form
        className="new-project"
        onSubmit={(e) => {
          e.preventDefault();
          const map = roles.map((role) => [role, [playerOf(role)].filter((p) => p !== NOBODY)] as const);
          setPlayers(new Map());
          void layWithRoles(session, asking, map);
        }}
      >
        <h2 id="roles-title">Who plays which role?</h2>
        <p>
          “{asking.recipe.name}” was made on a model with other parts. What no part plays is left out; the
          rest lies everywhere.
        </p>
        <div className="roles">
          {roles.map((role) => (
            <label className="field" key={role}>
              {role}
              <Form.Select
                size="sm"
                value={playerOf(role)}
                onChange={(e) => setPlayers(new Map([...players, [role, e.target.value]]))}
              >
                <option value={NOBODY}>no part</option>
                {parts.map((part) => (
                  <option key={part} value={part}>
                    {part}
                  </option>
                ))}
              </Form.Select>
            </label>
          ))}
        </div>
        <div className="row end">
          <Chip onClick={close}>Cancel</Chip>
          <Chip primary type="submit">
            Lay it
          </Chip>
        </div>
      </form>
    </Modal>
  );
}
