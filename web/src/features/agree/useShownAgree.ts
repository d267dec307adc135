/**
 * Assets with their windows and placements over the days that are shown, of this week and of the one beside
 * it.
 */
import type { Shapes } from "../../api/client";
import { useAgree } from "../../api/queries";
import { localDay } from "../../kit/words";
import type { WeekView } from "../week/context";
import { sameWindow } from "./drawing";

type Asset = Shapes["AgreeAsset"];

export function useShownAgree(view: WeekView): { agree: Shapes["Agree"] | undefined; error: Error | null } {
  const { week, beside, shown, now } = view;
  const here = useAgree(week);
  const after = useAgree(beside?.week ?? week, beside !== null);
  if (!here.data || (beside && !after.data))
    return { agree: undefined, error: here.error ?? (beside ? after.error : null) };
  if (!beside) return { agree: here.data, error: null };
  const assets = new Map<string, Asset>();
  for (const a of [...here.data.assets, ...after.data!.assets]) {
    const held = assets.get(a.key);
    assets.set(a.key, held ? both(held, a) : a);
  }
  const first = shown[0]!;
  const seen = [...assets.values()].map((a) => ({
    ...a,
    placements: a.placements.filter((p) => shown.includes(p.day)),
    windows: a.windows.filter((w) => localDay(w.end, now.timezone) >= first),
  }));
  return {
    error: null,
    agree: {
      assets: seen,
      conflicts: [...here.data.conflicts, ...after.data!.conflicts].filter(
        (c) => !c.day || shown.includes(c.day),
      ),
      to_answer: count(seen, (p) => p.asset_state !== "any" && !p.answer),
      refused: count(seen, (p) => p.answer === "refused"),
    },
  };
}

/** One asset of both weeks; a window that reaches from one into the other stands once. */
function both(a: Asset, b: Asset): Asset {
  const more = b.windows.filter((w) => !a.windows.some((x) => sameWindow(x, w)));
  return { ...a, windows: [...a.windows, ...more], placements: [...a.placements, ...b.placements] };
}

function count(assets: Asset[], is: (p: Asset["placements"][number]) => boolean): number {
  return assets.reduce((sum, a) => sum + a.placements.filter(is).length, 0);
}
