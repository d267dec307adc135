/**
 * What arrows pick stays in sight and gets the focus: it is seen on a long board, and told to those who
 * listen.
 */
import { useEffect, useReducer } from "react";

/**
 * A function to call when something else is picked by a key; `selector` finds what is picked once it is
 * drawn.
 */
export function useFollow(selector: string): () => void {
  const [moves, follow] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (moves === 0) return;
    const picked = document.querySelector<HTMLElement>(selector);
    picked?.scrollIntoView({ block: "nearest", inline: "nearest" });
    picked?.focus({ preventScroll: true });
    // Only a move of the picked thing calls for it, not another name for it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [moves]);
  return follow;
}
