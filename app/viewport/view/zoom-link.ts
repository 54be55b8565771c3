export interface ZoomStep {
  readonly x: number;
  readonly y: number;
  /** Above 1: nearer. */
  readonly factor: number;
}

type ModelZoom = (x: number, y: number, factor: number) => void;

/** Keeps model and reference at one zoom where they stand side by side. */
export class ZoomLink {
  private model: ModelZoom | null = null;
  private reference: { zoom(step: ZoomStep): void; pan(dx: number, dy: number): void } | null = null;

  attachModel(zoom: ModelZoom): () => void {
    this.model = zoom;
    return () => {
      if (this.model === zoom) this.model = null;
    };
  }

  attachReference = (reference: NonNullable<ZoomLink['reference']>): (() => void) => {
    this.reference = reference;
    return () => {
      if (this.reference === reference) this.reference = null;
    };
  };

  fromModel(step: ZoomStep): void {
    this.reference?.zoom(step);
  }

  panFromModel({ dx, dy }: { dx: number; dy: number }): void {
    this.reference?.pan(dx, dy);
  }

  fromReference({ x, y, factor }: ZoomStep): void {
    this.model?.(x, y, 1 / factor);
  }
}
