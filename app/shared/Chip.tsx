import { Button, type ButtonProps } from 'react-bootstrap';

interface Props extends Omit<ButtonProps, 'as' | 'variant' | 'bsPrefix' | 'size' | 'active'> {
  /** Makes it a switch, and tells how it stands. */
  readonly on?: boolean;
  /** What is most likely wanted here. */
  readonly primary?: boolean;
}

/** A small button; with `on` it is a switch. */
export function Chip({ on, primary = false, className = '', ...others }: Props) {
  return (
    <Button
      bsPrefix="chip"
      variant=""
      className={[className, ...(on ? ['on'] : []), ...(primary ? ['primary'] : [])]
        .filter(Boolean)
        .join(' ')}
      {...(on === undefined ? {} : { 'aria-pressed': on })}
      {...others}
    />
  );
}
