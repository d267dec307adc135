import { useEffect } from "react";

/** What the browser's tab says: which screen this is. */
export function useTitle(screen: string): void {
  useEffect(() => {
    document.title = `${screen} · Nundine`;
  }, [screen]);
}
