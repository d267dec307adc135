import { Link, useLocation } from "react-router";

import { usePinned } from "../api/lists";

/** Where a list is looked at. */
const SCREENS: Record<string, (week: string) => string> = {
  backlog: (week) => `/week/${week}/gather`,
};

/** The figures of the views that one has pinned, each a way to its rows. */
export function Pinned({ week }: { week: string }) {
  const shown = /\/week\/([^/]+)/.exec(useLocation().pathname)?.[1] ?? week;
  const pinned = usePinned(shown).data ?? [];
  return pinned
    .filter((p) => SCREENS[p.list])
    .map((p) => (
      <Link
        key={p.key}
        className="pinned"
        to={`${SCREENS[p.list]!(shown)}?list=${encodeURIComponent(JSON.stringify({ view: p.key }))}`}
        title={`${p.title}: ${p.count}`}
      >
        <span className="strong">{p.count}</span>
        {p.title}
      </Link>
    ));
}
