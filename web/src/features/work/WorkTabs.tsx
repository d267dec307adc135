import { NavLink } from "react-router";

/** What feeds the week: requests, and the plans that work is made of. */
export function WorkTabs() {
  return (
    <nav className="tabs" aria-label="Work">
      <NavLink to="/work/requests">Requests</NavLink>
      <NavLink to="/work/plans">Job plans</NavLink>
      <NavLink to="/work/desk">Planning desk</NavLink>
    </nav>
  );
}
