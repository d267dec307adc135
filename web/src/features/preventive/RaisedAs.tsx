import { Link } from "react-router";

interface Raised {
  order?: string | null;
  request?: string | null;
}

/** The number of the WO or request that a service was raised as. */
export const numberOf = (one: Raised) => one.order ?? one.request ?? "";

/** A way to the WO or request that a service was raised as. */
export function RaisedAs({ one, week }: { one: Raised; week: string }) {
  if (one.order)
    return <Link to={`/week/${week}/gather?job=${encodeURIComponent(one.order)}`}>{one.order}</Link>;
  if (one.request)
    return <Link to={`/work/requests?open=${encodeURIComponent(one.request)}`}>{one.request}</Link>;
  return null;
}
