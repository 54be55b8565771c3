import { useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { z } from 'zod';
import { Chip } from '../../shared/Chip';

const listSchema = z.array(
  z.object({ name: z.string(), version: z.string(), licence: z.string(), text: z.string() }),
);

/** What of others is shipped with the application, and under which licences. */
export function LicencesDialog({ onClose }: { onClose(): void }) {
  const [list, setList] = useState<z.infer<typeof listSchema> | null>(null);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    fetch('/licences.json')
      .then(async (answer) => setList(listSchema.parse(await answer.json())))
      .catch(() => setProblem('The list is missing from this installation. Run ./script/start again.'));
  }, []);
  return (
    <Modal show onHide={onClose} scrollable centered aria-labelledby="licences-title">
      <div className="form-dialog">
        <h2 id="licences-title">Works of others</h2>
        <p className="hint-line">
          Zanahoria is made with these libraries and typefaces, each under its own licence.
        </p>
        {problem && <p role="alert">{problem}</p>}
        <div className="licences">
          {list?.map(({ name, version, licence, text }) => (
            <details key={`${name} ${version}`}>
              <summary>
                <b>{name}</b> {version} <small>{licence}</small>
              </summary>
              <pre>{text || `Under ${licence}; the package brings no text of its own.`}</pre>
            </details>
          ))}
        </div>
        <div className="row end">
          <Chip primary onClick={onClose}>
            Close
          </Chip>
        </div>
      </div>
    </Modal>
  );
}
