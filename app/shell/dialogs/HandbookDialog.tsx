import './handbook.css';
import { lazy, Suspense } from 'react';
import { Modal } from 'react-bootstrap';
import { create } from 'zustand';

const HandbookPages = lazy(() => import('./HandbookPages'));

/** The page of the handbook that is open; null: it is closed. */
export const useHandbook = create<{ readonly page: string | null }>(() => ({ page: null }));

export const openHandbook = (page: string): void => useHandbook.setState({ page });

/** The handbook, over whatever is open. */
export function HandbookDialog({ onKeys }: { readonly onKeys?: () => void }) {
  const { page } = useHandbook();
  if (page === null) return null;
  const close = (): void => useHandbook.setState({ page: null });
  return (
    <Modal
      show
      onHide={close}
      scrollable
      centered
      size="lg"
      animation={false}
      aria-labelledby="handbook-title"
    >
      <Suspense fallback={<p className="hint-line handbook-wait">Opening…</p>}>
        <HandbookPages
          page={page}
          onPage={openHandbook}
          onClose={close}
          onKeys={
            onKeys &&
            (() => {
              close();
              onKeys();
            })
          }
        />
      </Suspense>
    </Modal>
  );
}
