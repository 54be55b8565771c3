import type { Reference } from '../../core/document';
import type { BoardView } from './board-geometry';
import { useReferenceUrl } from './reference-pictures';

interface Props {
  readonly project: string;
  readonly picture: Reference;
  readonly view: BoardView;
  /** Seen in values only. */
  readonly grey: boolean;
  readonly onReady: (id: number) => void;
}

const percent = (part: number): string => `${part * 100}%`;

/** One picture on the board. */
export function BoardPicture({ project, picture, view, grey, onReady }: Props) {
  const url = useReferenceUrl(project, picture.id);
  const { board, note } = picture;
  const scale = board.scale * view.zoom;
  const [width, height] = [picture.width * scale, picture.height * scale];
  const [x, y] = [view.x + board.x * view.zoom, view.y + board.y * view.zoom];
  const { left, top, right, bottom } = board.crop;
  return (
    <>
      {url && (
        <img
          src={url}
          alt={`Reference: ${picture.name}`}
          title={note || undefined}
          draggable={false}
          className={scale > 2 ? 'pixelated' : ''}
          onLoad={() => onReady(picture.id)}
          style={{
            width,
            height,
            left: x - width / 2,
            top: y - height / 2,
            transform: `rotate(${board.turn}rad) scaleX(${board.mirror ? -1 : 1})`,
            clipPath: `inset(${percent(top)} ${percent(1 - right)} ${percent(1 - bottom)} ${percent(left)})`,
            filter: grey ? 'grayscale(1)' : undefined,
          }}
        />
      )}
      {note && height > 120 && (
        <p className="board-note" style={{ left: x - width / 2, top: y + height / 2, width }}>
          {note}
        </p>
      )}
    </>
  );
}
