/** How many of the shown days a board spreads out: seven, three or one. */
import { Button } from "antd";

import { useKept } from "../../app/address";
import { useShortcuts } from "../../app/keys";
import { dayLater } from "../../kit/words";

export const SPANS = [1, 3, 7] as const;
export type Span = (typeof SPANS)[number];

/** The days that a board spreads out, within the seven shown. */
export function useSpan(shown: string[], group: string, picked?: string) {
  const [spanAt, keepSpan] = useKept("span", "7");
  const [zoom, keepZoom] = useKept("zoom");
  const span: Span = spanAt === "1" ? 1 : spanAt === "3" ? 3 : 7;
  const last = shown.length - span;
  const wanted = shown.indexOf(zoom);
  const at = span === 7 ? 0 : Math.min(Math.max(wanted, 0), last);
  const days = shown.slice(at, at + span);
  const show = (next: Span, day = picked ?? (span === 7 ? undefined : days[0])) => {
    keepSpan(String(next));
    keepZoom(next === 7 ? "" : (day ?? shown[0]!));
  };
  /** Another day comes into sight where the one that is picked does not lie on the board. */
  const follow = (day: string) => {
    if (!days.includes(day)) keepZoom(day < days[0]! ? day : dayLater(day, 1 - span));
  };
  const walk = (by: number) => keepZoom(shown[Math.min(Math.max(at + by, 0), last)]!);
  useShortcuts([
    { keys: "d", what: "One day, or all seven", group, run: () => show(span === 1 ? 7 : 1) },
    { keys: "Shift+d", what: "Three days, or all seven", group, run: () => show(span === 3 ? 7 : 3) },
  ]);
  return { days, span, show, follow, walk, first: at === 0, last: at === last };
}

/** One, three or seven days; where not all are shown, the days before and after. */
export function SpanChoice({ of }: { of: ReturnType<typeof useSpan> }) {
  return (
    <span className="row" role="group" aria-label="Days on the board" style={{ gap: 2 }}>
      {of.span < 7 && (
        <Button size="small" aria-label="Days before" disabled={of.first} onClick={() => of.walk(-of.span)}>
          ‹
        </Button>
      )}
      {SPANS.map((n) => (
        <Button
          key={n}
          size="small"
          aria-pressed={of.span === n}
          type={of.span === n ? "primary" : "default"}
          title={n === 1 ? "One day (D)" : n === 3 ? "Three days (Shift+D)" : "Seven days"}
          onClick={() => of.show(n)}
        >
          {n === 1 ? "1 day" : n}
        </Button>
      ))}
      {of.span < 7 && (
        <Button size="small" aria-label="Days after" disabled={of.last} onClick={() => of.walk(of.span)}>
          ›
        </Button>
      )}
    </span>
  );
}
