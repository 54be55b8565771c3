import { Modal } from 'react-bootstrap';
import { useQuestion } from './question';

/** Shows the question that is being asked; Escape closes it without an answer. */
export function QuestionDialog() {
  const asked = useQuestion((s) => s.asked);
  if (!asked) return null;
  return (
    <Modal show onHide={() => asked.answer(null)} centered aria-labelledby="question-title">
      <div className="new-project">
        <h2 id="question-title">{asked.title}</h2>
        <p>{asked.text}</p>
        <div className="row end">
          <button type="button" className="chip" onClick={() => asked.answer(false)}>
            {asked.no}
          </button>
          <button type="button" className="chip primary" autoFocus onClick={() => asked.answer(true)}>
            {asked.yes}
          </button>
        </div>
      </div>
    </Modal>
  );
}
