import { LinearSRGBColorSpace, WebGLRenderer } from 'three';

/**
 * The graphics context of a canvas, with everything off that would change a texel's bytes on their way to the screen.
 *
 * @throws Error if the browser gives no WebGL2 context or no float targets
 */
export function makeContext(canvas: HTMLCanvasElement): WebGLRenderer {
  const context = canvas.getContext('webgl2', {
    antialias: false,
    alpha: false,
    preserveDrawingBuffer: false,
  });
  if (!context) throw new Error('WebGL2 is missing.');
  if (!context.getExtension('EXT_color_buffer_float')) throw new Error('WebGL2 draws no floats.');
  const renderer = new WebGLRenderer({ canvas, context });
  // Another view may have drawn on this canvas before: its context is the same, and so is what it left set.
  renderer.resetState();
  renderer.outputColorSpace = LinearSRGBColorSpace;
  renderer.autoClear = false;
  // Asking for errors waits for the compiler; our own shaders are tested.
  renderer.debug.checkShaderErrors = import.meta.env.DEV;
  renderer.setPixelRatio(window.devicePixelRatio);
  return renderer;
}
