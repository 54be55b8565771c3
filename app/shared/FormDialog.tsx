import { useId, type ReactNode } from 'react';
import { Modal } from 'react-bootstrap';
import { Chip } from './Chip';

interface Props {
  readonly title: string;
  /** What the button says that does it. */
  readonly submit: string;
  readonly disabled?: boolean;
  readonly busy?: boolean;
  readonly onSubmit: () => void;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

/** Asks for what is needed before something is done; Enter does it, Escape closes it without. */
export function FormDialog({ title, submit, disabled, busy, onSubmit, onClose, children }: Props) {
  const id = useId();
  return (
    <Modal show onHide={onClose} centered aria-labelledby={id}>
      <form
        className="form-dialog"
        aria-busy={busy}
        onSubmit={(e) => {
          e.preventDefault();
          onSubmit();
        }}
      >
        <h2 id={id}>{title}</h2>
        {children}
        <div className="row end">
          <Chip onClick={onClose}>Cancel</Chip>
          <Chip primary type="submit" disabled={disabled ?? false}>
            {submit}
          </Chip>
        </div>
      </form>
    </Modal>
  );
}
