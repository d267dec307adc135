/** A tank says in words what it draws, never by colour alone. */
import { fireEvent, render, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import type { Shapes } from "../src/api/client";
import { Tank } from "../src/features/balance/Tank";
import { Gates, Priority } from "../src/features/gather/Marks";

type TankShape = Shapes["TankFigures"];
const tank = (more: Partial<TankShape>) =>
  ({
    craft: "elec",
    day: "2026-12-01",
    available: 40,
    held_back: 6,
    load: 20,
    must: 5,
    preventive: 10,
    other: 5,
    free: 20,
    jobs: 7,
    mood: "free",
    ...more,
  }) as TankShape;
const show = (more: Partial<TankShape>, highest = 40) =>
  render(
    <Tank
      tank={tank(more)}
      highest={highest}
      name="Electrician, Tue 1 Dec"
      picked={false}
      pick={() => {}}
      drop={() => {}}
    />,
  );

describe("a tank", () => {
  it("leads with what is free", () => {
    show({});
    expect(
      screen.getByRole("gridcell", { name: "Electrician, Tue 1 Dec: 20 h free of 40 h, 7 jobs" }),
    ).toBeTruthy();
    expect(screen.getByText("20")).toBeTruthy();
  });
  it("marks held-back hours in use with a sign and a word", () => {
    show({ mood: "tight", free: 3.5, load: 36.5 });
    expect(screen.getByText("◆ 3.5")).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: /into held-back hours/ })).toBeTruthy();
  });
  it("says by how much it is over", () => {
    show({ mood: "over", load: 47.75, free: 0 });
    expect(screen.getByText("▲ 7.75")).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: /7.75 h over of 40 h/ })).toBeTruthy();
  });
  it("without people says that there is no shift", () => {
    show({ mood: "none", available: 0, load: 0, free: 0, jobs: 0 }, 0);
    expect(screen.getByText("no shift")).toBeTruthy();
  });
  it("is filled to scale, must-work at the bottom", () => {
    const { container } = show({});
    const parts = [...container.querySelectorAll<HTMLElement>(".part")].map((p) => [
      p.className,
      p.style.bottom,
      p.style.height,
    ]);
    expect(parts).toEqual([
      ["part must", "0px", "6.25px"],
      ["part preventive", "6.25px", "12.5px"],
      ["part other", "18.75px", "6.25px"],
    ]);
    expect(container.querySelector<HTMLElement>(".lip")!.style.bottom).toBe("42.5px");
  });
  it("never spills higher than a whole tank, however much is on it", () => {
    const { container } = show({ mood: "over", load: 400, free: 0 });
    expect(container.querySelector<HTMLElement>(".spill")!.style.height).toBe("50px");
  });
  it("is picked by a click and takes what is dropped on it", () => {
    const [pick, drop] = [vi.fn(), vi.fn()];
    render(<Tank tank={tank({})} highest={40} name="Electrician" picked pick={pick} drop={drop} />);
    const cell = screen.getByRole("gridcell");
    fireEvent.click(cell);
    fireEvent.drop(cell, { dataTransfer: { getData: () => "WO-1" } });
    expect(pick).toHaveBeenCalledOnce();
    expect(drop).toHaveBeenCalledWith("WO-1");
    expect(cell.getAttribute("aria-selected")).toBe("true");
  });
});

describe("the marks of a job", () => {
  it("name the gates that are shut", () => {
    render(<Gates shut={["parts", "permit"]} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "waiting for parts (material), permit (licence to work)",
    );
  });
  it("say that all gates are open", () => {
    render(<Gates shut={[]} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe("ready: all gates open");
  });
  it("say must in words beside the ink", () => {
    render(<Priority value={86.6} must />);
    expect(screen.getByTitle("must be done this week").textContent).toBe("87 must");
  });
});
