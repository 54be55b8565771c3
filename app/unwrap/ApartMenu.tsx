import { Dropdown } from 'react-bootstrap';
import { useForm, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { FixedMenu } from '../shared/FixedMenu';
import { useLayout } from '../shared/layout-store';

const NO_REGIONS: readonly never[] = [];

/** Parts and regions that have texels of their own where halves are stacked: a face, a logo. */
export function ApartMenu() {
  const apart = useLayout((s) => s.apart);
  const parts = useForm()?.parts ?? [];
  const regions = useProject((s) => s.document?.regions) ?? NO_REGIONS;
  const choices: readonly (readonly [string | number, string])[] = [
    ...parts.map((name) => [name, name] as const),
    ...regions.map(({ id, name }) => [id, name] as const),
  ];
  const turn = (key: string | number): void => {
    const next = new Set(apart);
    if (!next.delete(key)) next.add(key);
    useLayout.setState({ apart: next });
  };
  return (
    <Dropdown autoClose="outside">
      <Dropdown.Toggle
        as={Chip}
        on={apart.size > 0}
        title="Parts and regions that get texels of their own: a face, a logo"
      >
        Keep apart
      </Dropdown.Toggle>
      <FixedMenu className="pop apart-menu">
        {choices.map(([key, name]) => (
          <Chip key={key} on={apart.has(key)} onClick={() => turn(key)}>
            {name}
          </Chip>
        ))}
      </FixedMenu>
    </Dropdown>
  );
}
