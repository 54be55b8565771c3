import { remember, remembered } from '../shared/remembered';

const ASKED = 'zanahoria-storage-asked';

/**
 * Asks the browser, once and when something has been painted, not to clear by itself what is kept here. Whether it promised is told on the page
 * of what is kept.
 */
export function askToKeepStorage(): void {
  if (remembered(ASKED) !== null || !remember(ASKED, 'yes')) return;
  void navigator.storage?.persist?.().catch(() => undefined);
}
