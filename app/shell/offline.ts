import { notify } from '../shared/notify';

/**
 * Lets the browser keep the application, so that it starts with the server gone. A new version is fetched beside the one in use and waits:
 * it is offered, and taken when that is wanted or when the last tab is closed.
 */
export async function keepForOffline(): Promise<void> {
  if (!('serviceWorker' in navigator) || import.meta.env.DEV) return;
  const { serviceWorker } = navigator;
  try {
    const registration = await serviceWorker.register('/sw.js');
    const offer = (waiting: ServiceWorker | null): void => {
      // The first version of all has nobody before it.
      if (!waiting || !serviceWorker.controller) return;
      notify('A new version of Zanahoria is ready. It begins with the next start, or now.', {
        label: 'Start it now',
        run: () => {
          serviceWorker.addEventListener('controllerchange', () => location.reload(), { once: true });
          waiting.postMessage({ type: 'SKIP_WAITING' });
        },
      });
    };
    offer(registration.waiting);
    registration.addEventListener('updatefound', () => {
      const coming = registration.installing;
      coming?.addEventListener('statechange', () => coming.state === 'installed' && offer(coming));
    });
  } catch {
    // A browser that refuses to keep it works with the server as before.
  }
}
