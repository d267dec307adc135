import { useLost } from "../api/connection";

/** Said over every screen while Nundine can not be reached. */
export function NoConnection() {
  if (!useLost()) return null;
  return (
    <div className="no-connection" role="alert">
      <span className="strong">No connection.</span> What you see may be old, and nothing can be changed until
      Nundine answers again. This page tries by itself.
    </div>
  );
}
