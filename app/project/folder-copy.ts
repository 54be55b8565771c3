import { create } from 'zustand';
import { sentenceOf } from '../../core/errors';
import { fileNameOf } from '../shared/files';
import { notify } from '../shared/notify';
import { store } from '../shared/platform';
import { useProject } from './project-store';

/** The copy is brought up to date when nothing was changed for so long, ms. */
const REST_MS = 12_000;

/** The copy of the open project in a folder that was chosen for it. */
export interface FolderCopyState {
  /** Null: none was chosen. */
  readonly folder: string | null;
  /** The browser asks once more, after a reload, before it lets the folder be written. */
  readonly asks: boolean;
  readonly at: number | null;
  readonly problem: string;
}

const NONE: FolderCopyState = { folder: null, asks: false, at: null, problem: '' };

export const useFolderCopy = create<FolderCopyState>(() => NONE);

type Permission = 'granted' | 'denied' | 'prompt';

/** What of a folder's handle TypeScript doesn't know (WICG File System Access). */
interface Folder extends FileSystemDirectoryHandle {
  queryPermission?(how: { mode: 'readwrite' }): Promise<Permission>;
  requestPermission?(how: { mode: 'readwrite' }): Promise<Permission>;
}

type Picker = (how: { mode: 'readwrite'; id: string }) => Promise<Folder>;

const pickerOf = (): Picker | null => {
  const { showDirectoryPicker } = window as { showDirectoryPicker?: Picker };
  return showDirectoryPicker ? (how) => showDirectoryPicker.call(window, how) : null;
};

/** Whether this browser lets a folder be written. */
export const canCopyToFolder = (): boolean => pickerOf() !== null;

/** What of an open project is needed for its copy. */
interface Copied {
  readonly project: string;
  projectFile(): Promise<Uint8Array | null>;
}

/** Keeps a copy of an open project in a folder up to date. */
export class FolderCopy {
  private readonly session: Copied;
  private folder: Folder | null = null;
  private timer: ReturnType<typeof setTimeout> | 0 = 0;
  private writing: Promise<void> | null = null;
  private readonly stop: () => void;
  private closed = false;

  constructor(session: Copied) {
    this.session = session;
    useFolderCopy.setState(NONE, true);
    let last = useProject.getState().history;
    this.stop = useProject.subscribe(({ history }) => {
      if (history === last) return;
      last = history;
      this.later();
    });
    void this.remember();
  }

  private async remember(): Promise<void> {
    const row = await store.folders.get(this.session.project).catch(() => undefined);
    if (!row || this.closed) return;
    const folder = row.folder as Folder;
    const may = (await folder.queryPermission?.({ mode: 'readwrite' })) ?? 'granted';
    if (this.closed) return;
    this.folder = folder;
    useFolderCopy.setState({ folder: folder.name, asks: may !== 'granted' });
  }

  /** Lets a folder be chosen, and writes the first copy. */
  async choose(): Promise<void> {
    const pick = pickerOf();
    if (!pick) return;
    let folder: Folder;
    try {
      folder = await pick({ mode: 'readwrite', id: 'zanahoria' });
    } catch {
      return;
    }
    this.folder = folder;
    useFolderCopy.setState({ folder: folder.name, asks: false, problem: '' });
    await store.folders.put({ project: this.session.project, folder }).catch(() => undefined);
    await this.write();
  }

  /** Asks for the permission that a reload has taken away. */
  async allow(): Promise<void> {
    const may = await this.folder?.requestPermission?.({ mode: 'readwrite' });
    useFolderCopy.setState({ asks: may !== 'granted' });
    if (may === 'granted') await this.write();
  }

  /** No copy is kept any more; the file stays where it is. */
  async end(): Promise<void> {
    clearTimeout(this.timer);
    this.folder = null;
    useFolderCopy.setState(NONE, true);
    await store.folders.delete(this.session.project).catch(() => undefined);
  }

  private later(): void {
    clearTimeout(this.timer);
    if (!this.folder) return;
    this.timer = setTimeout(() => void this.write(), REST_MS);
  }

  private async write(): Promise<void> {
    await this.writing;
    this.writing = this.writeOnce().finally(() => (this.writing = null));
    await this.writing;
  }

  private async writeOnce(): Promise<void> {
    const { folder } = this;
    const { document, isPainting } = useProject.getState();
    // A stroke in hand is half there: the copy waits for its end.
    if (isPainting) return this.later();
    if (!folder || !document || this.closed || useFolderCopy.getState().asks) return;
    const bytes = await this.session.projectFile();
    if (!bytes) return;
    try {
      const file = await folder.getFileHandle(`${fileNameOf(document.name)}.zip`, { create: true });
      // Takes the file's place only when it is whole.
      const stream = await file.createWritable();
      await stream.write(bytes as Uint8Array<ArrayBuffer>);
      await stream.close();
      useFolderCopy.setState({ at: Date.now(), problem: '' });
    } catch (error) {
      const problem = `The copy in “${folder.name}” couldn’t be written: ${sentenceOf(error)}`;
      if (useFolderCopy.getState().problem !== problem) notify(problem);
      useFolderCopy.setState({ problem });
    }
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    this.stop();
    useFolderCopy.setState(NONE, true);
  }
}
