/** Hours of an asset on the board of Agree: lanes of what overlaps, and windows drawn with the pointer. */
import { fireEvent, render, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import {
  drag,
  DRAWN,
  gapAfter,
  lanes,
  same,
  sameWindow,
  SLOT,
  type AgreeWindow,
  type Spot,
} from "../src/features/agree/drawing";

const MONDAY = Date.parse("2026-11-30T05:00:00Z");
const moment = (slots: number) => new Date(MONDAY + slots * SLOT).toISOString();
const window_ = (from: number, to: number) =>
  ({ asset: "L1", kind: "work", start: moment(from), end: moment(to) }) as AgreeWindow;
const spot = (from: number, to: number, n = 0) =>
  ({
    job: `WO-${n}`,
    task: "10",
    portion: 1,
    day: "2026-11-30",
    start: moment(from),
    end: moment(to),
  }) as Spot;

/** Whole numbers that look random and are the same each time. */
function* numbers(seed: number): Generator<number> {
  for (let x = seed; ;) {
    x = (1103515245 * x + 12345) % 2 ** 31;
    yield x >> 8;
  }
}
const next = (r: Generator<number>, below: number) => (r.next().value as number) % below;

describe("lanes", () => {
  it("are one where nothing overlaps, and where nothing is", () => {
    expect(lanes([])).toEqual({ lane: [], count: 1 });
    expect(lanes([spot(0, 4), spot(4, 8), spot(9, 12)])).toEqual({ lane: [0, 0, 0], count: 1 });
  });
  it("put what overlaps below what began before it, in whatever order it comes", () => {
    expect(lanes([spot(2, 6), spot(0, 4)])).toEqual({ lane: [1, 0], count: 2 });
  });
  it("give a place that is free again to who comes next", () => {
    expect(lanes([spot(0, 4), spot(1, 9), spot(4, 6)])).toEqual({ lane: [0, 1, 0], count: 2 });
  });
  it("keep work without a time too", () => {
    const bare = { ...spot(0, 1), start: null, end: null };
    expect(lanes([bare, spot(0, 4)]).lane).toHaveLength(2);
  });
  it.each(Array.from({ length: 40 }, (_, n) => n + 1))(
    "never hold two at one time, and are no more than overlap at once (%i)",
    (seed) => {
      const r = numbers(seed);
      const all = Array.from({ length: 1 + next(r, 14) }, (_, n) => {
        const from = next(r, 40);
        return spot(from, from + 1 + next(r, 12), n);
      });
      const { lane, count } = lanes(all);
      const spans = all.map((s) => [Date.parse(s.start!), Date.parse(s.end!)] as const);
      for (let a = 0; a < all.length; a++)
        for (let b = 0; b < a; b++)
          if (spans[a][0] < spans[b][1] && spans[b][0] < spans[a][1]) expect(lane[a]).not.toBe(lane[b]);
      const most = Math.max(...spans.map(([at]) => spans.filter(([a, b]) => a <= at && at < b).length));
      expect(count).toBe(most);
    },
  );
});

describe("the next gap", () => {
  const hours = (slots: number) => MONDAY + slots * SLOT;
  it("is where it was asked for if nothing is in the way", () => {
    expect(gapAfter([], hours(8))).toBe(hours(8));
    expect(gapAfter([window_(0, 8)], hours(8))).toBe(hours(8));
  });
  it("comes behind windows that leave too little between them", () => {
    expect(gapAfter([window_(0, 8), window_(12, 20)], hours(8))).toBe(hours(20));
  });
  it("is one between windows that is long enough", () => {
    expect(gapAfter([window_(0, 8), window_(8 + DRAWN / SLOT, 40)], hours(0))).toBe(hours(8));
  });
  it("is found whatever the order of the windows", () => {
    expect(gapAfter([window_(20, 30), window_(0, 20)], hours(2))).toBe(hours(30));
  });
});

describe("what is the same", () => {
  it("is a window of one asset and kind that begins at one moment, a placement by its portion", () => {
    expect(sameWindow(window_(0, 4), window_(0, 9))).toBe(true);
    expect(sameWindow(window_(0, 4), window_(1, 4))).toBe(false);
    expect(sameWindow({ ...window_(0, 4), kind: "run" }, window_(0, 4))).toBe(false);
    expect(same(spot(0, 4), spot(5, 9))).toBe(true);
    expect(same(spot(0, 4, 1), spot(0, 4, 2))).toBe(false);
    expect(sameWindow(null, window_(0, 4)) || same(null, spot(0, 4))).toBe(false);
  });
});

describe("a window drawn with the pointer", () => {
  const day = 96 * SLOT;
  function Hours({ drawn }: { drawn: (from: string, to: string) => void }) {
    return (
      <div data-testid="hours" {...drag(MONDAY, MONDAY + day, drawn)}>
        <button className="spot">WO-1</button>
      </div>
    );
  }
  const shown = () => {
    const drawn = vi.fn();
    render(<Hours drawn={drawn} />);
    const el = screen.getByTestId("hours");
    el.getBoundingClientRect = () => ({ left: 0, width: 960 }) as DOMRect;
    el.setPointerCapture = () => undefined;
    return { drawn, el };
  };
  const draw = (el: HTMLElement, from: number, to: number, button = 0) => {
    fireEvent.pointerDown(el, { clientX: from, button });
    fireEvent.pointerMove(el, { clientX: to });
    fireEvent.pointerUp(el, { clientX: to });
  };

  it("goes from where the pointer went down to where it came up, in quarters of an hour", () => {
    const { drawn, el } = shown();
    draw(el, 100, 204);
    expect(drawn).toHaveBeenCalledWith(moment(10), moment(20));
  });
  it("may be drawn from its end to its beginning", () => {
    const { drawn, el } = shown();
    draw(el, 204, 100);
    expect(drawn).toHaveBeenCalledWith(moment(10), moment(20));
  });
  it("is shown while it is drawn, and no longer", () => {
    const { el } = shown();
    fireEvent.pointerDown(el, { clientX: 96, button: 0 });
    fireEvent.pointerMove(el, { clientX: 480 });
    const ghost = el.querySelector<HTMLElement>(".ghost")!;
    expect([ghost.style.left, ghost.style.width]).toEqual(["10.416666666666666%", "39.583333333333336%"]);
    fireEvent.pointerUp(el, { clientX: 480 });
    expect(el.querySelector(".ghost")).toBeNull();
  });
  it("is none where the pointer hardly moved, another button is used, or a job lies under it", () => {
    const { drawn, el } = shown();
    draw(el, 100, 108);
    draw(el, 100, 300, 2);
    const job = screen.getByText("WO-1");
    fireEvent.pointerDown(job, { clientX: 100, button: 0 });
    fireEvent.pointerMove(el, { clientX: 300 });
    fireEvent.pointerUp(el, { clientX: 300 });
    expect(drawn).not.toHaveBeenCalled();
  });
  it("is given up where the pointer is taken away", () => {
    const { drawn, el } = shown();
    fireEvent.pointerDown(el, { clientX: 100, button: 0 });
    fireEvent.pointerMove(el, { clientX: 300 });
    fireEvent.pointerCancel(el);
    fireEvent.pointerUp(el, { clientX: 300 });
    expect(drawn).not.toHaveBeenCalled();
    expect(el.querySelector(".ghost")).toBeNull();
  });
});
