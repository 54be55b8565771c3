/** Hands a file to the browser's downloads. */
export function download(name: string, bytes: Uint8Array | string | Blob, type: string): void {
  const blob =
    bytes instanceof Blob ? bytes : new Blob([bytes as Uint8Array<ArrayBuffer> | string], { type });
  const url = URL.createObjectURL(blob);
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 30_000);
}

/** Lets files be chosen; an empty list if that is given up. */
export function chooseFiles(accept: string, several: boolean): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.multiple = several;
    input.addEventListener('change', () => resolve([...(input.files ?? [])]));
    input.addEventListener('cancel', () => resolve([]));
    input.click();
  });
}

export const bytesOf = async (file: Blob): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());

/** A name that every file system takes. */
export function fileNameOf(project: string): string {
  return (
    project
      .normalize('NFC')
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase() || 'project'
  );
}
