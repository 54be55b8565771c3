import { Chip } from '../shared/Chip';
import { useLayout } from '../shared/layout-store';

/** How islands are arranged when they are laid out or packed. */
export function ArrangeChips() {
  const arrange = useLayout((s) => s.arrange);
  return (
    <>
      <Chip
        on={arrange === 'upright'}
        title="As on the model: upright, both sides beside one another, a part's islands together"
        onClick={() => useLayout.setState({ arrange: 'upright' })}
      >
        Upright
      </Chip>
      <Chip
        on={arrange === 'tightest'}
        title="Turned and placed so that they fill the sheet best"
        onClick={() => useLayout.setState({ arrange: 'tightest' })}
      >
        Tightest
      </Chip>
    </>
  );
}
