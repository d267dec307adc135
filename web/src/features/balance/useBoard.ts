/** The rows of the board of tanks: crafts or crews, and beneath a row that is unfolded its people. */
import type { Shapes } from "../../api/client";
import { useLoad, useTanks } from "../../api/queries";
import { useKept } from "../../app/address";
import type { WeekView } from "../week/context";

type Figures = Shapes["TankFigures"];
export type RowKind = "craft" | "crew" | "person" | "open";

export interface BoardRow {
  kind: RowKind;
  key: string;
  name: string;
  /** A tank for each day that is shown. */
  tanks: Figures[];
}

/** The tanks of the days that are shown, of this week and of the one beside it. */
export function useShownTanks(view: WeekView): Figures[] {
  const { week, now, areas, beside } = view;
  const own = useTanks(week, areas).data;
  const its = useTanks(beside?.week ?? week, areas, beside !== null).data;
  const after = beside ? ((areas.length ? its : beside.now.tanks) ?? []) : [];
  const here = (areas.length ? own : now.tanks) ?? now.tanks;
  return [...here, ...after].filter((t) => view.shown.includes(t.day));
}

/** Rows by crew or by person over the days that are shown. */
function useShownLoad(view: WeekView, by: "crews" | "people", wanted: boolean) {
  const { week, areas, beside, shown } = view;
  const here = useLoad(week, by, areas, wanted).data ?? [];
  const after = useLoad(beside?.week ?? week, by, areas, wanted && beside !== null).data ?? [];
  const rows = new Map<string, Shapes["LoadRow"]>();
  for (const row of beside ? [...here, ...after] : here)
    rows.set(row.key, { ...row, tanks: [...(rows.get(row.key)?.tanks ?? []), ...row.tanks] });
  return [...rows.values()].map((r) => ({ ...r, tanks: inDays(r.tanks, shown, r.key) }));
}

/** Whoever has nothing in one of two weeks has empty tanks there. */
function inDays(tanks: Figures[], shown: string[], row: string): Figures[] {
  return shown.map((day) => tanks.find((t) => t.day === day) ?? { ...EMPTY, row, day });
}

const EMPTY: Figures = {
  row: "",
  day: "",
  available: 0,
  overtime: 0,
  held_back: 0,
  load: 0,
  free: 0,
  people: 0,
  jobs: 0,
  mood: "none",
  must: 0,
  preventive: 0,
  other: 0,
};

/** Open seats are a craft's row beneath it; beside crews they have a row of their own. */
export function useBoard(view: WeekView) {
  const [by, setBy] = useKept("rows", "craft");
  const [kept, keep] = useKept("unfolded");
  const unfolded = kept ? kept.split("~") : [];
  const crafts = useShownTanks(view);
  const crews = useShownLoad(view, "crews", by === "crew");
  const people = useShownLoad(view, "people", unfolded.length > 0);
  const above: BoardRow[] =
    by === "crew"
      ? crews.map((r) => ({ kind: "crew", key: r.key, name: r.name ?? "without a crew", tanks: r.tanks }))
      : view.now.crafts.map((c) => ({
          kind: "craft",
          key: c.key,
          name: c.name,
          tanks: inDays(
            crafts.filter((t) => t.row === c.key),
            view.shown,
            c.key,
          ),
        }));
  const beneath = (row: BoardRow): BoardRow[] =>
    people
      .filter((p) =>
        by === "crew" ? (p.crew ?? "") === row.key && (p.name || !row.key) : p.craft === row.key,
      )
      .map((p) => ({
        kind: p.name ? "person" : "open",
        key: p.key,
        name: p.name ?? (by === "crew" ? `open: ${view.craftName(p.craft ?? "")}` : "open seats"),
        tanks: p.tanks,
      }));
  const rows = above.flatMap((row) => (unfolded.includes(row.key) ? [row, ...beneath(row)] : [row]));
  const fold = (key: string) =>
    keep((unfolded.includes(key) ? unfolded.filter((k) => k !== key) : [...unfolded, key]).join("~"));
  const turn = () => {
    setBy(by === "crew" ? "craft" : "crew");
    keep("");
  };
  const foldAll = () => keep(unfolded.length ? "" : above.map((r) => r.key).join("~"));
  return { rows, by, turn, fold, foldAll, unfolded };
}
