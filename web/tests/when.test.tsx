/** What is typed into a field of a day or a clock is what counts, or it is refused in words. */
import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { describe, expect, it, vi } from "vitest";

import { clockOf, dayOf, momentOf } from "../src/kit/typedDates";
import { Clock, Day, Moment } from "../src/kit/When";

const NEAR = "2026-11-30";

describe("a typed day", () => {
  it.each([
    "3 Dec",
    "3. Dec",
    "Thu 3 Dec",
    "thursday, 3 december 2026",
    "3.12.",
    "3.12.2026",
    "2026-12-03",
    " 3 dec 2026 ",
  ])("%s is the third of December", (typed) => {
    expect(dayOf(typed, NEAR)).toBe("2026-12-03");
  });
  it("without a year is the one nearest to the day before it", () => {
    expect([dayOf("2 Jan", NEAR), dayOf("28 Dec", "2027-01-04"), dayOf("29 Feb", "2027-06-01")]).toEqual([
      "2027-01-02",
      "2026-12-28",
      "2028-02-29",
    ]);
  });
  it.each([
    ["today", "2026-11-30"],
    ["tomorrow", "2026-12-01"],
    ["+3", "2026-12-03"],
    ["-1", "2026-11-29"],
    ["mon", "2026-11-30"],
    ["tue", "2026-12-01"],
    ["Sunday", "2026-12-06"],
    ["su", "2026-12-06"],
    ["w50", "2026-12-07"],
    ["w1", "2027-01-04"],
    ["w53", "2026-12-28"],
  ])("%s is seen from today", (typed, is) => {
    expect(dayOf(typed, "2027-06-01", NEAR)).toBe(is);
  });
  it.each([
    "w54",
    "w0",
    "t",
    "mo 3",
    "+3000",
    "31 Nov",
    "29 Feb 2027",
    "32.12.2026",
    "Foo 3",
    "3",
    "12/03/2026",
    "3 Dec 1066",
    "",
  ])("%s is no day", (typed) => {
    expect(dayOf(typed, NEAR)).toBeNull();
  });
});

describe("a typed moment", () => {
  it.each([
    ["3 Dec 6:15", "2026-12-03T06:15"],
    ["Thu 3 Dec 2026 06:15", "2026-12-03T06:15"],
    ["2026-12-03T06:15", "2026-12-03T06:15"],
    ["14:30", "2026-11-30T14:30"],
    ["3 dec 22", "2026-12-03T22:00"],
    ["3 Dec", "2026-12-03T18:00"],
    ["tue 6:30", "2026-12-01T06:30"],
    ["+3 18", "2026-12-03T18:00"],
    ["w50", "2026-12-07T18:00"],
    ["tomorrow", "2026-12-01T18:00"],
  ])("%s is %s", (typed, is) => {
    expect(momentOf(typed, NEAR, "18:00")).toBe(is);
  });
  it.each(["3 Dec 25:00", "yesterday", "3 Dec 6:15 pm"])("%s is none", (typed) => {
    expect(momentOf(typed, NEAR, "18:00")).toBeNull();
  });
});

describe("a typed clock", () => {
  it("is read with or without its colon", () => {
    expect(["6", "6:15", "0615", "6.15", "24:00", "6:60", "x"].map(clockOf)).toEqual([
      "06:00",
      "06:15",
      "06:15",
      "06:15",
      null,
      null,
      null,
    ]);
  });
});

function Form({ send }: { send: (said: string) => void }) {
  const [from, setFrom] = useState("2026-12-01T06:00");
  const [until, setUntil] = useState("");
  return (
    <form
      aria-label="Form"
      onSubmit={(e) => {
        e.preventDefault();
        send(`${from} ${until}`);
      }}
    >
      <Moment label="From" value={from} change={setFrom} />
      <Day label="Until" empty value={until} change={setUntil} />
      <button>Send</button>
    </form>
  );
}

describe("a form with typed days", () => {
  it("sends what was typed last, by Enter as by the button", async () => {
    const send = vi.fn();
    render(<Form send={send} />);
    await userEvent.clear(screen.getByLabelText("From"));
    await userEvent.type(screen.getByLabelText("From"), "3 Dec 14:30");
    await userEvent.tab();
    expect(screen.getByLabelText<HTMLInputElement>("From").value).toMatch(/^Thu 3 Dec( 2026)? 14:30$/);
    await userEvent.type(screen.getByLabelText("Until"), "5.12.{Enter}");
    expect(send).toHaveBeenLastCalledWith("2026-12-03T14:30 2026-12-05");
  });
  it("is not sent with what can not be read, and says why beside it", async () => {
    const send = vi.fn();
    render(<Form send={send} />);
    await userEvent.type(screen.getByLabelText("Until"), "the fifth");
    await userEvent.click(screen.getByText("Send"));
    expect(send).not.toHaveBeenCalled();
    expect(screen.getByRole("status").textContent).toContain("“the fifth” can not be read");
    expect(screen.getByLabelText<HTMLInputElement>("Until").value).toBe("the fifth");
  });
  it("does not take a day before the first one that is allowed", () => {
    render(<Day label="Last day" value="2026-12-03" least="2026-12-02" change={() => {}} />);
    fireEvent.change(screen.getByLabelText("Last day"), { target: { value: "1 Dec" } });
    expect(screen.getByRole("status").textContent).toBe("Not before Wed 2 Dec");
  });
  it("shows a clock as it is when the field is left", async () => {
    function One() {
      const [clock, setClock] = useState("06:00");
      return <Clock label="Start" value={clock} change={setClock} />;
    }
    render(<One />);
    await userEvent.clear(screen.getByLabelText("Start"));
    await userEvent.type(screen.getByLabelText("Start"), "7");
    await userEvent.tab();
    expect(screen.getByLabelText<HTMLInputElement>("Start").value).toBe("07:00");
  });
});
