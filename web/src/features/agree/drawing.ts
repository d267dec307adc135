import type { Shapes } from "../../api/client";

export type Spot = Shapes["AgreePlacement"];
export type AgreeWindow = Shapes["Window"];

export const sameWindow = (a: AgreeWindow | null, b: AgreeWindow) =>
  a !== null && a.asset === b.asset && a.kind === b.kind && a.start === b.start;
export const same = (a: Spot | null, b: Spot) =>
  a !== null && a.job === b.job && a.task === b.task && a.portion === b.portion;

export const SLOT = 15 * 6e4;
export const DRAWN = 4 * 36e5;

/**
 * The first moment from which on so many hours have no window yet; as it was asked for where there is none.
 */
export function gapAfter(windows: AgreeWindow[], from: number): number {
  const taken = windows
    .map((w) => [Date.parse(w.start), Date.parse(w.end)] as const)
    .sort((a, b) => a[0] - b[0]);
  let start = from;
  for (const [a, b] of taken) if (a < start + DRAWN && b > start) start = b;
  return start;
}

/**
 * Drawing on an asset's hours with the pointer: from where it goes down to where it comes up, in quarters of
 * an hour.
 */
export function drag(start: number, end: number, drawn: (from: string, to: string) => void) {
  const at = (e: React.PointerEvent<HTMLDivElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (e.clientX - box.left) / box.width));
    return start + Math.round((share * (end - start)) / SLOT) * SLOT;
  };
  const ghost = (e: React.PointerEvent<HTMLDivElement>) =>
    e.currentTarget.querySelector<HTMLElement>(":scope > .ghost");
  const show = (el: HTMLDivElement, a: number, b: number) => {
    const box =
      el.querySelector<HTMLElement>(":scope > .ghost") ??
      el.appendChild(Object.assign(document.createElement("div"), { className: "ghost" }));
    box.style.left = `${(100 * (Math.min(a, b) - start)) / (end - start)}%`;
    box.style.width = `${(100 * Math.abs(b - a)) / (end - start)}%`;
  };
  return {
    onPointerDown: (e: React.PointerEvent<HTMLDivElement>) => {
      if (e.button !== 0 || (e.target as Element).closest(".spot")) return;
      e.currentTarget.dataset.from = String(at(e));
    },
    onPointerMove: (e: React.PointerEvent<HTMLDivElement>) => {
      const from = Number(e.currentTarget.dataset.from);
      if (!from || (!ghost(e) && Math.abs(at(e) - from) < 2 * SLOT)) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      show(e.currentTarget, from, at(e));
    },
    onPointerUp: (e: React.PointerEvent<HTMLDivElement>) => {
      const from = ghost(e) ? Number(e.currentTarget.dataset.from) : 0,
        to = at(e);
      delete e.currentTarget.dataset.from;
      ghost(e)?.remove();
      if (from && Math.abs(to - from) >= 2 * SLOT)
        drawn(new Date(Math.min(from, to)).toISOString(), new Date(Math.max(from, to)).toISOString());
    },
    onPointerCancel: (e: React.PointerEvent<HTMLDivElement>) => {
      delete e.currentTarget.dataset.from;
      ghost(e)?.remove();
    },
  };
}

/** Placements that overlap stand below one another. */
export function lanes(placements: Spot[]): { lane: number[]; count: number } {
  const ends: number[] = [];
  const lane = placements.map(() => 0);
  const order = placements
    .map((_, n) => n)
    .sort((a, b) =>
      (placements[a].start ?? placements[a].day).localeCompare(placements[b].start ?? placements[b].day),
    );
  for (const n of order) {
    const start = Date.parse(placements[n].start ?? placements[n].day);
    let k = ends.findIndex((e) => e <= start);
    if (k < 0) k = ends.length;
    ends[k] = Date.parse(placements[n].end ?? placements[n].day) || start;
    lane[n] = k;
  }
  return { lane, count: Math.max(1, ends.length) };
}
