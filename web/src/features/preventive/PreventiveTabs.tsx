import { NavLink } from "react-router";

/**
 * Recurring work: its plans on their assets, what falls due when, what became of it; meters and shutdowns.
 */
export function PreventiveTabs() {
  return (
    <nav className="tabs" aria-label="Preventive">
      <NavLink to="/preventive/services">Services</NavLink>
      <NavLink to="/preventive/forecast">Forecast</NavLink>
      <NavLink to="/preventive/meters">Meters</NavLink>
      <NavLink to="/preventive/shutdowns">Shutdowns</NavLink>
      <NavLink to="/preventive/done">Record</NavLink>
    </nav>
  );
}
