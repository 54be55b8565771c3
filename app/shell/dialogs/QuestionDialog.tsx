import { Chip } from '../../shared/Chip';
import { Modal } from 'react-bootstrap';
import { useQuestion } from '../../shared/question';

/** Shows the question that is being asked; Escape closes it without an answer. */
export function QuestionDialog() {
  const asked = useQuestion((s) => s.asked);
  if (!asked) return null;
  return (
    <Modal show onHide={() => asked.answer(null)} centered aria-labelledby="question-title">
      <div className="form-dialog">
        <h2 id="question-title">{asked.title}</h2>
        <p>{asked.text}</p>
        <div className="row end">
          <Chip onClick={() => asked.answer(false)}>{asked.no}</Chip>
          <Chip primary autoFocus onClick={() => asked.answer(true)}>
            {asked.yes}
          </Chip>
        </div>
      </div>
    </Modal>
  );
}
