import { z } from 'zod';
import { create, type StoreApi, type UseBoundStore } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';
import { remember, remembered } from './remembered';

/** What the artist has changed about keys. */
export interface KeyChoices {
  /** By the command's id: other keys than the usual ones; empty for none. */
  readonly keys: Readonly<Record<string, string>>;
  /** Keys without Ctrl or Alt do nothing: for those who touch keys by accident, or speak to the machine. */
  readonly onlyWithModifier: boolean;
}

const schema = z.object({
  keys: z.record(z.string().max(60), z.string().max(60)),
  onlyWithModifier: z.boolean(),
});

export const useKeyChoices: UseBoundStore<StoreApi<KeyChoices>> = create<KeyChoices>()(
  persist((): KeyChoices => ({ keys: {}, onlyWithModifier: false }), {
    name: 'zanahoria-keys',
    storage: createJSONStorage(() => ({
      getItem: remembered,
      setItem: (key, value) => void remember(key, value),
      removeItem: (key) => void remember(key, ''),
    })),
    merge: (stored, fresh) => {
      const known = schema.safeParse(stored);
      return known.success ? known.data : fresh;
    },
  }),
);

export function setKeys(command: string, keys: string | null): void {
  useKeyChoices.setState(({ keys: before }) => {
    const next = { ...before };
    if (keys === null) Reflect.deleteProperty(next, command);
    else next[command] = keys;
    return { keys: next };
  });
}
