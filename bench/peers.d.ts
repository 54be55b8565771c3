declare module 'bunny' {
  const bunny: { positions: number[][]; cells: number[][] };
  export default bunny;
}
declare module 'xatlasjs/dist/node/api.mjs' {
  /** The parts that the bench uses. */
  export const Api: (create: (params: object) => unknown) => new (onLoad: () => void) => {
    createAtlas(): void;
    addMesh(indices: Uint16Array, vertices: Float32Array): unknown;
    generateAtlas(
      charts: object,
      pack: object,
    ): {
      meshes: readonly {
        index: ArrayLike<number>;
        vertex: { vertices: Float32Array; coords1: Float32Array };
      }[];
    };
  };
}
