import { App, Button, Checkbox, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { Choice } from "../../kit/Choice";
import { Typed } from "../../kit/Typed";
import { useRefusal } from "../../kit/useRefusal";
import { count, dayLater, dayName, hours, percent, mondayOf } from "../../kit/words";
import { useChoices } from "../orders/useOrders";
import { Calendar } from "./Calendar";
import { FallsDueTable } from "./FallsDueTable";
import { DueLines, GROUPS, type Group } from "./DueLines";
import { PreventiveTabs } from "./PreventiveTabs";
import { numberOf } from "./RaisedAs";
import { mondayBefore, monthLater, monthName } from "./weeks";
import { useForecast, usePreventiveWrites } from "./usePreventive";
import { CraftStrip } from "./CraftStrip";

const RANGES = [
  { days: 28, label: "4 weeks" },
  { days: 91, label: "A quarter" },
  { days: 182, label: "Half a year" },
  { days: 364, label: "A year" },
  { days: 1092, label: "3 years" },
];
/** How much of their hours people may spend on preventive work. */
const SHARES = [
  { value: "1", label: "full at all hours" },
  { value: "0.75", label: "full at 75 %" },
  { value: "0.5", label: "full at 50 %" },
  { value: "0.3", label: "full at 30 %" },
  { value: "0.2", label: "full at 20 %" },
  { value: "0.1", label: "full at 10 %" },
];
const LOOKS = { weeks: "By week", month: "Month", week: "Week", table: "Table" } as const;
type Look = keyof typeof LOOKS;

/**
 * What falls due: by craft and week against the hours there are, with what could move so that no week is
 * overfull; as the days of a month or week; or as a table.
 */
export function ForecastPage({ me }: { me: Shapes["Me"] }) {
  const [kept, setLook] = useKept("look");
  const look: Look = kept in LOOKS ? (kept as Look) : "weeks";
  const [days, setDays] = useState(182);
  const [from, setFrom] = useState(mondayOf(me.week));
  const [picked, setPicked] = useState<{ craft: string; week: string } | null>(null);
  const [day, setDay] = useState<string | null>(null);
  const [group, setGroup] = useState<Group>("asset");
  const [words, setWords] = useState("");
  useTitle("Forecast");
  const month = from.slice(0, 7);
  const shown =
    look === "weeks" || look === "table"
      ? { first: dayLater(mondayOf(me.week), -7), days }
      : look === "month"
        ? { first: mondayBefore(`${month}-01`), days: 42 }
        : { first: mondayBefore(from), days: 7 };
  const [person, setPerson] = useKept("person");
  const [keptShare, setShare] = useKept("share");
  const share = SHARES.some((s) => s.value === keptShare) ? keptShare : "1";
  const { people } = useChoices();
  const found = useForecast(look === "table" ? null : shown, me.areas, person || null, Number(share));
  const f = found.data;
  const may = me.rights.includes("plan");
  const names = new Map(f?.crafts.map((c) => [c.craft, c.name]));
  const low = words.trim().toLowerCase();
  const lines = (f?.lines ?? []).filter((l) =>
    `${l.plan} ${l.title} ${l.asset_name} ${l.area} ${l.crew} ${numberOf(l)}`.toLowerCase().includes(low),
  );
  const step = (by: number) => {
    setDay(null);
    setFrom(look === "month" ? monthLater(month, by) : dayLater(from, 7 * by));
  };
  const chosen = picked
    ? lines.filter(
        (l) =>
          l.day >= mondayOf(picked.week) &&
          l.day <= dayLater(mondayOf(picked.week), 6) &&
          l.hours[picked.craft],
      )
    : lines.filter((l) => l.day === day);
  const looks = Object.entries(LOOKS).map(([key, label]) => (
    <Button
      key={key}
      type={key === look ? "primary" : "default"}
      aria-pressed={key === look}
      onClick={() => {
        setLook(key);
        setPicked(null);
        setDay(null);
      }}
    >
      {label}
    </Button>
  ));
  const far = (
    <Choice
      hidden
      label="How far"
      width={110}
      value={String(days)}
      change={(v) => setDays(Number(v))}
      options={RANGES.map((r) => ({ value: String(r.days), label: r.label }))}
    />
  );
  const who = (
    <div style={{ width: 140 }}>
      <Typed
        bare
        label="Who could do it"
        options={people}
        value={person || null}
        change={(v) => setPerson(v ?? "")}
        placeholder="who could do it"
      />
    </div>
  );
  if (look === "table")
    return (
      <main className="lists">
        <PreventiveTabs />
        <FallsDueTable
          me={me}
          of={`${shown.first} ${shown.days} ${person}`.trim()}
          bar={
            <>
              {looks}
              {far}
              {who}
            </>
          }
        />
      </main>
    );
  return (
    <main className="lists">
      <PreventiveTabs />
      <div className="split">
        <div className="main forecast">
          <div className="bar wrap">
            {looks}
            {look === "weeks" ? (
              <>
                {far}
                <Choice
                  hidden
                  label="A week is full"
                  width={140}
                  value={share}
                  change={setShare}
                  options={SHARES}
                />
              </>
            ) : (
              <>
                <Button aria-label="Before" onClick={() => step(-1)}>
                  ‹
                </Button>
                <span className="strong">
                  {look === "month"
                    ? monthName(month)
                    : `${dayName(shown.first)} to ${dayName(dayLater(shown.first, 6))}`}
                </span>
                <Button aria-label="After" onClick={() => step(1)}>
                  ›
                </Button>
              </>
            )}
            <input
              className="plainselect"
              aria-label="Words"
              style={{ width: 120 }}
              placeholder="asset, area, crew"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
            {who}
          </div>
          <p className="soft">
            {f &&
              `${dayName(f.first)} to ${dayName(f.last)} ${f.last.slice(0, 4)} · ` +
                `${count(lines.length, "occurrence")} · ${lines.filter(numberOf).length} raised`}
          </p>
          {found.error && <p className="brick">{found.error.message}</p>}
          {found.isPending && <Spin />}
          {f && f.lines.length === 0 && look === "weeks" && (
            <div className="empty">
              <h2>Nothing falls due</h2>
              <p>Running preventive plans show here what they mean for coming weeks.</p>
            </div>
          )}
          {look === "weeks" ? (
            <>
              {f?.crafts.map((c) => (
                <CraftStrip key={c.craft} craft={c} share={Number(share)} picked={picked} pick={setPicked} />
              ))}
              {f && f.crafts.length > 0 && (
                <p className="soft small">
                  ■ falls due, dark: raised · ⊔ hours that the craft has for it · ▲ more falls due than that
                </p>
              )}
            </>
          ) : (
            f && (
              <>
                <Calendar
                  first={shown.first}
                  weeks={shown.days / 7}
                  month={look === "month" ? month : null}
                  lines={lines}
                  picked={day}
                  pick={setDay}
                />
                <p className="soft small">□ comes next, ▫ after it · ■ raised · ✓ done · – left out</p>
              </>
            )
          )}
        </div>
        <aside className="side" aria-label="What falls due, and what could move">
          {(picked || day) && (
            <>
              <div className="row">
                <h1 className="grow">
                  {picked ? `${picked.week}, ${names.get(picked.craft)?.toLowerCase()}` : dayName(day!)}
                </h1>
                <Choice
                  hidden
                  label="Group"
                  width={110}
                  value={group}
                  change={(v) => setGroup(v as Group)}
                  options={Object.entries(GROUPS).map(([value, label]) => ({ value, label }))}
                />
              </div>
              <section
                aria-label={
                  picked ? `${picked.week}, ${names.get(picked.craft)}` : `Falls due ${dayName(day!)}`
                }
              >
                {picked && (
                  <p className="soft small">
                    {hours(chosen.reduce((all, l) => all + l.hours[picked.craft]!, 0))} fall due
                  </p>
                )}
                {chosen.length === 0 && <p className="soft">Nothing falls due.</p>}
                <DueLines
                  key={`${picked?.craft} ${picked?.week} ${day}`}
                  lines={chosen}
                  group={group}
                  week={me.week}
                  may={may}
                />
              </section>
            </>
          )}
          {f && look === "weeks" && <Overfull shifts={f.shifts} names={names} may={may} />}
          {look !== "weeks" && !day && <p className="soft">Pick a day to see what falls due on it.</p>}
        </aside>
      </div>
    </main>
  );
}

const keyOf = (s: Shapes["ShiftLine"]) => `${s.plan} ${s.asset}`;

/** Moves within tolerance that help overfull weeks, accepted one by one or all. */
function Overfull({
  shifts,
  names,
  may,
}: {
  shifts: Shapes["ShiftLine"][];
  /** Of crafts, by their keys. */
  names: Map<string, string>;
  may: boolean;
}) {
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const { shift } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const chosen = shifts.filter((s) => !off.has(keyOf(s)));
  const accept = async () => {
    try {
      const moved = await shift(chosen.map(({ plan, asset, day, to }) => ({ plan, asset, day, to })));
      void message.success(`${count(moved, "service")} moved`);
    } catch (bad) {
      refuse("Nothing was moved", bad);
    }
  };
  const flip = (key: string) =>
    setOff((before) => {
      const now = new Set(before);
      if (!now.delete(key)) now.add(key);
      return now;
    });
  if (!shifts.length)
    return (
      <section>
        <h1>No move would help</h1>
        <p className="soft">No week is overfull that a move within tolerance would relieve.</p>
      </section>
    );
  return (
    <section aria-label="Overfull weeks">
      <h1>{count(shifts.length, "service")} could move</h1>
      <p className="soft small">Each within its tolerance, so that less is over.</p>
      {shifts.map((s) => (
        <label key={keyOf(s)} className="item row" style={{ alignItems: "start" }}>
          {may && (
            <Checkbox
              aria-label={`Move ${s.title}, ${s.asset_name}`}
              checked={!off.has(keyOf(s))}
              onChange={() => flip(keyOf(s))}
            />
          )}
          <span className="grow">
            <span dir="auto">
              {s.title}, {s.asset_name}
            </span>
            <span className="secondline soft small">
              {names.get(s.craft)?.toLowerCase()} {percent(s.before, 0)} → {percent(s.after, 0)}
            </span>
          </span>
          <span className="ochre small">
            {dayName(s.day)} → {dayName(s.to)}
          </span>
        </label>
      ))}
      {may && (
        <Button
          type="primary"
          style={{ marginTop: 10 }}
          disabled={!chosen.length}
          onClick={() => void accept()}
        >
          Accept the {chosen.length} chosen
        </Button>
      )}
    </section>
  );
}
