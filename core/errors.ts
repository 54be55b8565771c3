/**
 * Every failure that a person may meet. `code` is stable (tests and the interface branch on it); the message is one or two
 * plain sentences: what was found, what was expected, what to do.
 */
export const ERROR_CODES = [
  'bad-argument',
  'file-empty',
  'file-not-a-model',
  'file-not-a-picture',
  'file-not-a-palette',
  'file-not-a-project',
  'file-truncated',
  'file-unsupported',
  'model-empty',
  'model-too-large',
  'model-bad-number',
  'model-no-uvs',
  'unwrap-closed',
  'unwrap-folds',
  'unwrap-no-grid',
  'pack-no-room',
  'document-invalid',
  'document-newer',
  'layer-missing',
  'storage-full',
  'storage-failed',
  'storage-refused',
  'storage-damaged',
  'read-only',
  'encoder-failed',
  'worker-died',
  'cancelled',
] as const;

export type ErrorCode = (typeof ERROR_CODES)[number];

export class CoreError extends Error {
  readonly code: ErrorCode;

  constructor(code: ErrorCode, message: string, options?: { cause?: unknown }) {
    super(message, options);
    this.name = 'CoreError';
    this.code = code;
  }
}

/** The sentence to show for anything that was thrown. */
export function sentenceOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
