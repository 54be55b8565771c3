import { Dropdown, type DropdownMenuProps } from 'react-bootstrap';

/** Kept within the window, over its button where there is no other room. */
const FIXED: NonNullable<DropdownMenuProps['popperConfig']> = {
  strategy: 'fixed',
  modifiers: [{ name: 'preventOverflow', options: { altAxis: true, padding: 6 } }],
};

/**
 * A menu that no scrolling panel around its button cuts off. It is fixed from the first: the place of a menu that becomes so later is
 * reckoned from its button's frame instead of the window's.
 */
export const FixedMenu = (props: DropdownMenuProps) => (
  <Dropdown.Menu popperConfig={FIXED} style={{ position: 'fixed' }} {...props} />
);
