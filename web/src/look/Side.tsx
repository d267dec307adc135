import type { ReactNode } from "react";

/** The panel at the right. It can have the focus, so that it scrolls by keyboard too. */
export function Side({ name, children }: { name: string; children: ReactNode }) {
  return <aside className="side" aria-label={name} tabIndex={0}>{children}</aside>;
}
