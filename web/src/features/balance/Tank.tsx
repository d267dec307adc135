import type { Shapes } from "../../api/client";
import { count, figure, hours } from "../../kit/words";

const HEIGHT = 50;
const LOW = 24;

/** One craft on one day: height = availability, fill = load, dashed lip = held back, what spills = over. */
export function Tank({
  tank,
  highest,
  name,
  picked,
  low,
  pick,
  drop,
}: {
  tank: Shapes["TankFigures"];
  highest: number;
  name: string;
  picked: boolean;
  /** A person's tank stands lower than that of a craft or crew. */
  low?: boolean;
  pick: () => void;
  drop: (data: string) => void;
}) {
  const height = low ? LOW : HEIGHT;
  const scale = (h: number) => (highest > 0 ? (height * h) / highest : 0);
  const parts = [
    ["must", tank.must],
    ["preventive", tank.preventive],
    ["other", tank.other],
  ] as const;
  let bottom = 0;
  const over = tank.load - tank.available;
  const lead =
    tank.mood === "over"
      ? `▲ ${figure(over)}`
      : tank.mood === "tight"
        ? `◆ ${figure(tank.free)}`
        : figure(tank.free);
  const empty = tank.mood === "none";
  const rest = tank.mood === "over" ? `${hours(over)} over` : `${hours(tank.free)} free`;
  const words = empty
    ? `${name}: no shift`
    : `${name}: ${rest} of ${hours(tank.available)}, ${count(tank.jobs, "job")}` +
      (tank.mood === "tight" ? ", into held-back hours" : "");
  return (
    <div
      className={`tank ${picked ? "picked" : ""} ${low ? "low" : ""}`}
      role="gridcell"
      aria-selected={picked}
      tabIndex={picked ? 0 : -1}
      onClick={pick}
      onDragOver={(e) => {
        e.preventDefault();
        e.currentTarget.classList.add("dropping");
      }}
      onDragLeave={(e) => e.currentTarget.classList.remove("dropping")}
      onDrop={(e) => {
        e.preventDefault();
        e.currentTarget.classList.remove("dropping");
        drop(e.dataTransfer.getData("text/plain"));
      }}
    >
      <span className="unseen">{words}</span>
      {empty ? (
        <span
          className="soft small"
          aria-hidden
          style={{ gridColumn: "1 / -1", paddingBottom: low ? 4 : 14 }}
        >
          no shift
        </span>
      ) : (
        <>
          <div className="glass">
            {over > 0.001 && (
              <div
                className="spill hatch-brick"
                style={{ bottom: scale(tank.available), height: Math.min(scale(over), height) }}
              />
            )}
            <div className="vessel" style={{ height: Math.max(scale(tank.available), 3) }}>
              {parts.map(([kind, h]) => {
                const at = bottom;
                bottom += scale(h);
                return (
                  h > 0 && (
                    <div key={kind} className={`part ${kind}`} style={{ bottom: at, height: scale(h) }} />
                  )
                );
              })}
            </div>
            {tank.held_back > 0 && (
              <div className="lip" style={{ bottom: scale(tank.available - tank.held_back) }} />
            )}
          </div>
          <div aria-hidden style={{ minWidth: 0 }}>
            <div
              className={`lead cut ${tank.mood === "over" ? "brick" : tank.mood === "tight" ? "ochre" : ""}`}
            >
              {lead}
            </div>
            <div className="small soft cut">
              {tank.mood === "over" ? `over ${figure(tank.available)}` : `of ${figure(tank.available)}`}
            </div>
          </div>
        </>
      )}
    </div>
  );
}
