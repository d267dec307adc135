import { NavLink } from "react-router";

/** Parts: what there is, what moved, which assets use what, and where it lies. */
export function PartsTabs() {
  return (
    <nav className="tabs" aria-label="Parts">
      <NavLink to="/parts/stock">Parts</NavLink>
      <NavLink to="/parts/picking">To pick</NavLink>
      <NavLink to="/parts/movements">Movements</NavLink>
      <NavLink to="/parts/lists">Parts lists</NavLink>
      <NavLink to="/parts/storerooms">Storerooms</NavLink>
    </nav>
  );
}
