import { Chip } from '../../shared/Chip';
import { useTip } from '../../shared/commands';
import { useUi } from '../../shared/ui-store';

/** Lets the lamp of the lit check and the toon view be dragged over the model. */
export function MoveLamp() {
  const aims = useUi((s) => s.aiming === 'check');
  const tip = useTip();
  return (
    <Chip
      on={aims}
      title={tip(
        'Drag on the model: the lamp shines straight onto the place under the pointer',
        'check-lamp',
      )}
      onClick={() => useUi.setState({ aiming: aims ? null : 'check' })}
    >
      Move the lamp
    </Chip>
  );
}
