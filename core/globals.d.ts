/**
 * The few globals that browsers, workers and Node share and that the core may use. The core is compiled without the DOM
 * library, so that nothing else of a browser can slip in.
 */
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(input?: Uint8Array): string;
}
declare class TextEncoder {
  encode(input?: string): Uint8Array<ArrayBuffer>;
}
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array);
  }
  class Instance {
    constructor(module: Module, imports?: Record<string, Record<string, unknown>>);
    readonly exports: Record<string, unknown>;
  }
  class Memory {
    constructor(descriptor: { initial: number; maximum?: number });
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
}
/** Encoders from elsewhere write to it; `formats/ktx2.ts` keeps one quiet. */
declare const console: { log: (...words: unknown[]) => void };
interface ReadableStream<T> {
  getReader(): { read(): Promise<{ done: false; value: T } | { done: true; value?: undefined }> };
}
declare class CompressionStream {
  constructor(format: 'deflate');
  readonly readable: ReadableStream<Uint8Array>;
  readonly writable: {
    getWriter(): { write(chunk: Uint8Array<ArrayBuffer>): Promise<void>; close(): Promise<void> };
  };
}
