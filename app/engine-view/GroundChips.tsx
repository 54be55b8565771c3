import { Chip } from '../shared/Chip';
import { CANAL, chooseGround, PLAIN_GROUNDS, type Ground } from './grounds';

/** What stands behind the models. */
export function GroundChips({
  ground,
  onGround,
}: {
  readonly ground: Ground;
  onGround(ground: Ground): void;
}) {
  const isPicture = ground.kind === 'picture';
  return (
    <>
      {PLAIN_GROUNDS.map(([name, grey]) => (
        <Chip
          key={name}
          on={!isPicture && ground.grey === grey}
          onClick={() => onGround({ kind: 'plain', grey })}
        >
          {name}
        </Chip>
      ))}
      <Chip on={isPicture && ground.url === CANAL.url} onClick={() => onGround(CANAL)}>
        Canal
      </Chip>
      <Chip
        on={isPicture && ground.url !== CANAL.url}
        onClick={() => void chooseGround(ground).then((chosen) => chosen && onGround(chosen))}
      >
        Picture…
      </Chip>
    </>
  );
}
