import type { UvMesh } from '../../core/mesh';
import type { ToolMaker } from '../../app/viewport/input/tool';

/** Tells the name of the part that is pressed on, and follows the pointer over others until it is let go. */
export const nameTool =
  (mesh: () => UvMesh | null, tell: (name: string | null) => void): ToolMaker =>
  () => {
    const nameAt = (face: number | undefined): string | null => {
      const model = mesh();
      return model && face !== undefined ? (model.parts[model.faceParts[face]!] ?? null) : null;
    };
    return {
      name: 'name',
      cursor: 'help',
      hover: (_at, hit) => tell(nameAt(hit?.face)),
      // Beside the model it isn't this tool's business: the press turns the view.
      press: (_at, hit) => {
        if (!hit) return null;
        tell(nameAt(hit.face));
        return { move: () => undefined, end: () => tell(null), cancel: () => tell(null) };
      },
    };
  };
