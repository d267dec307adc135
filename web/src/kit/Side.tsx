import { useEffect, useRef, type ReactNode } from "react";

import { isNarrow } from "./look";

/**
 * The panel at the right; on a narrow screen below the list, to which it comes into sight when something is
 * picked. It can have the focus, so that it scrolls by keyboard too.
 */
export function Side({
  name,
  about,
  children,
}: {
  name: string;
  about?: string | null;
  children: ReactNode;
}) {
  const panel = useRef<HTMLElement>(null);
  useEffect(() => {
    if (about && isNarrow()) panel.current?.scrollIntoView({ block: "start" });
  }, [about]);
  return (
    <aside ref={panel} className="side" aria-label={name} tabIndex={0}>
      {children}
    </aside>
  );
}
