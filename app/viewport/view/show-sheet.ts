import { useUi } from '../../shared/ui-store';
import type { Hit } from './picker';

/** What was touched is seen on its sheet too. */
export function showSheetOf(hit: Hit | null): void {
  if (hit && useUi.getState().sheet !== hit.sheet) useUi.setState({ sheet: hit.sheet });
}
