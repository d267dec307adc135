import { NavLink } from "react-router";

/** Parts: what there is, the storekeeper’s day, what is bought, what moved, which assets use what. */
export function PartsTabs() {
  return (
    <nav className="tabs" aria-label="Parts">
      <NavLink to="/parts/stock">Parts</NavLink>
      <NavLink to="/parts/day">Today</NavLink>
      <NavLink to="/parts/picking">To pick</NavLink>
      <NavLink to="/parts/kits">Kits</NavLink>
      <NavLink to="/parts/buying">To buy</NavLink>
      <NavLink to="/parts/requests">Requests to buy</NavLink>
      <NavLink to="/parts/orders">Orders</NavLink>
      <NavLink to="/parts/movements">Movements</NavLink>
      <NavLink to="/parts/lists">Parts lists</NavLink>
      <NavLink to="/parts/storerooms">Storerooms</NavLink>
    </nav>
  );
}
