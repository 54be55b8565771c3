import { Form } from 'react-bootstrap';

/** A label and one of several values. Values are told apart by their text. */
export function ChoiceField<T extends string | number | null>({
  label,
  value,
  choices,
  title,
  onChange,
}: {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly (readonly [value: T, label: string])[];
  readonly title?: string;
  readonly onChange: (value: T) => void;
}) {
  return (
    <label className="field">
      {label}
      <Form.Select
        size="sm"
        value={String(value)}
        title={title}
        onChange={(e) => {
          const chosen = choices.find(([own]) => String(own) === e.target.value);
          if (chosen) onChange(chosen[0]);
        }}
      >
        {choices.map(([own, says]) => (
          <option key={String(own)} value={String(own)}>
            {says}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}
